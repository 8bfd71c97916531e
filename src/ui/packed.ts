/**
 * A value on its way from a page to its island as one text: Astro takes every object of a large property apart, one by one.
 * Quotes and tildes change places, since every quote in an attribute is written with six letters. Who packs the same object
 * again gets the same text; the page's own picture of the island takes the value as it was.
 */
export type Packed<T> = string & { readonly holds?: T };

const texts = new WeakMap<object, string>();
/** What was packed last, by its text. */
const values = new Map<string, object>();
const VALUES_KEPT = 20;

export function packed<T extends object>(value: T): Packed<T> {
  const before = texts.get(value);
  if (before !== undefined) return before;
  const text = swapped(JSON.stringify(value));
  texts.set(value, text);
  values.set(text, value);
  if (values.size > VALUES_KEPT) values.delete(values.keys().next().value!);
  return text;
}

export function unpacked<T>(text: Packed<T>): T {
  return (values.get(text) ?? JSON.parse(swapped(text))) as T;
}

const swapped = (text: string) =>
  text
    .split("~")
    .map((piece) => piece.replaceAll('"', "~"))
    .join('"');
