/** Names that are said in full before the rest is only counted. */
const NAMED = 3;
const list = new Intl.ListFormat("en-GB", { type: "conjunction" });

/**
 * Names in a sentence; a long list ends in a number.
 * @example
 * nameList(["Ines", "Bo", "Ada", "Cy", "Dee"]) // => "Ines, Bo, Ada and 2 more"
 */
export function nameList(names: readonly string[]): string {
  const rest = names.length - NAMED;
  return list.format(rest > 1 ? [...names.slice(0, NAMED), `${rest} more`] : names);
}
