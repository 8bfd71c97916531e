/** The engraver's own letters, which it puts into every picture: 58 kB each. */
const FONT = /<style[^>]*>\s*@font-face[^<]*<\/style>/;

/**
 * Leaves the engraver's letters in the first of several pictures that stand on one page: a style in one counts for all of them.
 * @returns what takes the pictures one by one; every picture it is given has to reach the page
 */
export function fontOnce(): (svg: string) => string {
  let there = false;
  return (svg) => {
    if (!FONT.test(svg)) return svg;
    if (there) return svg.replace(FONT, "");
    there = true;
    return svg;
  };
}
