/** A value on its way from a page to its island as one text: Astro takes every object of a large property apart, one by one. */
export type Packed<T> = string & { readonly holds?: T };

export function packed<T>(value: T): Packed<T> {
  return JSON.stringify(value);
}

export function unpacked<T>(text: Packed<T>): T {
  return JSON.parse(text) as T;
}
