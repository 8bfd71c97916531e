import { type Block, blockTitle, type Clock, clockOf, clockText, WarmUpError } from "../../core/warmup";

/** Null where a block cannot be played: its own sentence stands beside its settings. */
export function clockOrNull<T>(compute: () => T): T | null {
  try {
    return compute();
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

export function problemOf(block: Block, pieceBpm: number): WarmUpError | null {
  try {
    clockOf({ title: "", blocks: [block], changeoverSec: 0, budgetSec: 60, pieceBpm });
    return null;
  } catch (error) {
    if (error instanceof WarmUpError) return error;
    throw error;
  }
}

export function freshId(blocks: Block[]): string {
  let number = blocks.length + 1;
  while (blocks.some((block) => block.id === `b${number}`)) number++;
  return `b${number}`;
}

export function longestOf(clock: Clock | null, blocks: Block[]): string {
  const longest = clock?.blocks.reduce((a, b) => (b.seconds > a.seconds ? b : a));
  const block = blocks.find((each) => each.id === longest?.id);
  return block ? `${blockTitle(block)} with ${clockText(longest!.seconds)}` : "the first";
}
