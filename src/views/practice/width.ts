/** How wide a part is engraved for this screen, so that a staff space is at least 8 px on a phone and 10 on a laptop. */
export function engravingWidth(large: boolean): "phone-large" | "phone" | "narrow" | "medium" {
  if (innerWidth < 560) return large ? "phone-large" : "phone";
  // A phone on its side is wide and low: as many bars in view as fit.
  const upright = innerWidth < 900 && innerHeight > 500;
  return large || upright ? "narrow" : "medium";
}
