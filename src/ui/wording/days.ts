/** "Wed 25 Nov": a local day as everybody says it. */
export function dayName(day: string): string {
  return new Date(`${day}T12:00:00`).toLocaleDateString("en-GB", {
    weekday: "short",
    day: "numeric",
    month: "short",
  });
}
