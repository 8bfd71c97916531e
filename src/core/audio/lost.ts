/** A block of microphone sound: where it begins by the audio clock, and when it came by the wall clock, seconds. */
export interface HeardBlock {
  clockSec: number;
  cameSec: number;
}

/** Sound that was lost before a block. */
export interface LostSound {
  /** Place of the block in the list. */
  block: number;
  seconds: number;
}

/** A device that loses less than this at once loses nothing a beginner plays, seconds. */
const LEAST_LOST_SEC = 0.06;
/** Clocks of a device part by some milliseconds a minute; only what is lost faster than that counts, seconds. */
const WITHIN_SEC = 2;

/**
 * Where a busy device stopped its audio clock while sound went on: from there on every block comes later by the wall clock
 * than its place says, and the sound in between is gone.
 *
 * A block may also come late by chance, so a lateness counts only as far as no later block comes with less: the lower
 * envelope, from the end, of lateness (wall clock less audio clock). A rise of it within two seconds is lost sound.
 *
 * @example
 * // A tenth of a second each; the clock stands still for half a second before the third block.
 * lostSound([
 *   { clockSec: 0, cameSec: 10 },
 *   { clockSec: 0.1, cameSec: 10.1 },
 *   { clockSec: 0.2, cameSec: 10.7 },
 *   { clockSec: 0.3, cameSec: 10.8 },
 * ]).map(({ block, seconds }) => [block, Math.round(10 * seconds) / 10]) // => [[2, 0.5]]
 */
export function lostSound(blocks: readonly HeardBlock[]): LostSound[] {
  const late = blocks.map(({ clockSec, cameSec }) => cameSec - clockSec);
  for (let i = late.length - 2; i >= 0; i--) late[i] = Math.min(late[i]!, late[i + 1]!);
  const lost: LostSound[] = [];
  let since = 0;
  for (let i = 1; i < blocks.length; i++) {
    while (blocks[i]!.clockSec - blocks[since]!.clockSec > WITHIN_SEC) since++;
    const seconds = late[i]! - late[since]!;
    if (seconds < LEAST_LOST_SEC) continue;
    lost.push({ block: i, seconds });
    since = i;
  }
  return lost;
}

/** Around a place where sound was lost and no silence stands for it, so much is not heard well, seconds. */
const SEAM_SEC = 0.04;

/**
 * Puts the blocks of a recording together, and says where sound was left out of it.
 *
 * @param rest      what the last block still owes
 * @param leftOut   silence in the blocks for what the audio clock passed over, seconds of that clock
 * @param realTime  sound that was lost while the clock stood still is silence too, so that what follows keeps its time
 * @returns gaps in seconds of the samples; `added` says that there is silence in them which was not in the blocks
 */
export function joinBlocks(
  blocks: readonly (HeardBlock & { samples: Float32Array })[],
  rest: Float32Array,
  leftOut: readonly { fromSec: number; toSec: number }[],
  sampleRate: number,
  realTime: boolean,
): { samples: Float32Array; gaps: { fromSec: number; toSec: number }[]; added: boolean } {
  const lost = lostSound(blocks);
  const filled = (seconds: number) => (realTime ? Math.round(seconds * sampleRate) : 0);
  const added = lost.reduce((sum, { seconds }) => sum + filled(seconds), 0);
  const length = blocks.reduce((sum, { samples }) => sum + samples.length, rest.length);
  const samples = new Float32Array(length + added);
  const gaps: { fromSec: number; toSec: number }[] = [];
  let at = 0;
  blocks.forEach((block, i) => {
    const gone = lost.find((each) => each.block === i);
    if (gone) {
      const fromSec = at / sampleRate;
      gaps.push({ fromSec, toSec: fromSec + (realTime ? gone.seconds : SEAM_SEC) });
      at += filled(gone.seconds);
    }
    samples.set(block.samples, at);
    at += block.samples.length;
  });
  samples.set(rest, at);
  for (const { fromSec, toSec } of leftOut) {
    // What was lost before it was filled with silence: it comes so much later.
    let later = -(blocks[0]?.clockSec ?? 0);
    for (const { block, seconds } of lost)
      if (blocks[block]!.clockSec <= fromSec) later += filled(seconds) / sampleRate;
    gaps.push({ fromSec: Math.max(0, fromSec + later), toSec: Math.max(0, toSec + later) });
  }
  return { samples, gaps, added: added > 0 };
}
