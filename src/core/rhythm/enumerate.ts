import { type Form, formId, type Metre, slotsIn } from "./form";

export interface FormQuery {
  metre: Metre;
  slotsPerBeat: number;
  /** How many attacks, exactly; any number (at least one) when left out. */
  attacks?: number;
  rests: boolean;
}

/**
 * All bars of a metre, grid and number of attacks, one after another and never kept: a consumer takes as many as it needs.
 * Without rests the first slot is struck and every sound lasts to the next; with rests a sound may end earlier and the bar
 * may begin with silence. Nothing is tied in. Order: as the signs "x", "-", "." compare in that order, slot by slot.
 */
export function* formsOf({ metre, slotsPerBeat, attacks, rests }: FormQuery): Generator<Form> {
  const slots = slotsIn({ metre, slotsPerBeat });
  const signs = rests ? "x-." : "x-";
  const cells: string[] = [];
  function* fill(left: number | null): Generator<Form> {
    const slot = cells.length;
    if (slot === slots) {
      if (left === 0 || (left === null && cells.includes("x")))
        yield { metre, slotsPerBeat, cells: cells.join("") };
      return;
    }
    if (left !== null && left > slots - slot) return;
    for (const sign of signs) {
      if (sign === "x" && left === 0) continue;
      if (sign === "-" && (slot === 0 || cells[slot - 1] === ".")) continue;
      cells.push(sign);
      yield* fill(sign === "x" && left !== null ? left - 1 : left);
      cells.pop();
    }
  }
  yield* fill(attacks ?? null);
}

/**
 * How many forms there are, without making them.
 *
 * Without rests a form is a composition of n slots into k parts: C(n-1, k-1), 2^(n-1) over all k (compositions of n).
 * With rests each of the k attacks is followed by some holds and some rests, and some rests stand before the first:
 * n - k slots in 2k + 1 places, C(n + k, 2k) (OEIS A085478); over all k the Fibonacci numbers F(2n+1) (OEIS A001519), less
 * one for the silent bar.
 * @example
 * // Seven attacks on the eighths of a 4/4 bar, no rests: the one quarter note wanders through seven places.
 * countForms({ metre: { beats: 4, beatType: 4 }, slotsPerBeat: 2, attacks: 7 }) // => 7
 */
export function countForms({ metre, slotsPerBeat, attacks, rests }: FormQuery): number {
  const n = slotsIn({ metre, slotsPerBeat });
  const withAttacks = (k: number) =>
    k < 1 || k > n ? 0 : rests ? binomial(n + k, 2 * k) : binomial(n - 1, k - 1);
  if (attacks !== undefined) return withAttacks(attacks);
  let sum = 0;
  for (let k = 1; k <= n; k++) sum += withAttacks(k);
  return sum;
}

/** C(n, k), exact for every bar there is (n up to 80). */
export function binomial(n: number, k: number): number {
  if (k < 0 || k > n) return 0;
  let value = 1n;
  for (let i = 1; i <= k; i++) value = (value * BigInt(n - k + i)) / BigInt(i);
  return Number(value);
}

/** One form of each ring: bars that are the same when the loop begins at another attack count once (necklaces). */
export function* oneOfEachRing(forms: Iterable<Form>): Generator<Form> {
  const seen = new Set<string>();
  for (const form of forms) {
    const ring = formId({ ...form, cells: smallestRotation(form.cells) });
    if (seen.has(ring)) continue;
    seen.add(ring);
    yield form;
  }
}

function smallestRotation(cells: string): string {
  let smallest = cells;
  for (let i = 1; i < cells.length; i++) {
    const turned = cells.slice(i) + cells.slice(0, i);
    if (turned < smallest) smallest = turned;
  }
  return smallest;
}
