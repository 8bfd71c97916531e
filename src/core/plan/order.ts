/**
 * Lines in the order a band is taught in: the director's own place before the number in the book; what has neither comes last, as
 * it came.
 * @example
 * inTeachingOrder([{ number: 2, teachingPlace: null }, { number: 7, teachingPlace: 1 }]) // => [{ number: 7, teachingPlace: 1 }, { number: 2, teachingPlace: null }]
 */
export function inTeachingOrder<L extends { number: number | null; teachingPlace: number | null }>(
  lines: readonly L[],
): L[] {
  const place = ({ teachingPlace, number }: L) => teachingPlace ?? number ?? Number.MAX_SAFE_INTEGER;
  return [...lines].sort((a, b) => place(a) - place(b));
}
