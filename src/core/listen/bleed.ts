import { midiToHz } from "../music";
import type { SoundingNote } from "../score";
import type { Features } from "./features";
import { makeSpectrum } from "./spectrum";
import { median } from "./statistics";
import type { NoteVerdict } from "./types";

const FRAME = 4096;
const PARTIALS = 8;
/** A partial is there when it stands so far above what lies around it, and is heard beside the strongest of the note. */
const PRESENT_DB = { aboveAround: 14, belowStrongest: 26 };
/** Partials this near to one of the note that was played say nothing, as a share of their frequency. */
const SHARED = 0.025;
/** A right note so far below the usual level may be the reference alone, dB. */
const FAINT_DB = 8;

export interface Bleed {
  /** Whether a reference plays the same line loudly enough to stand for missed notes. */
  loud: boolean;
  /** Notes that may have been played by the reference alone. */
  doubtful: ReadonlySet<number>;
}

/**
 * Looks for a reference that sounds together with the player: under wrong notes the right pitch is heard as well, and
 * notes that seem right are far softer than the rest, as the player left them out.
 *
 * @param levels  level of each heard note in dB, null where none was heard; see `noteLevels`
 */
export function findBleed(
  notes: readonly SoundingNote[],
  verdicts: readonly NoteVerdict[],
  levels: readonly (number | null)[],
  features: Features,
): Bleed {
  const usual = median(levels.filter((level) => level !== null));
  const faint = verdicts.filter(
    ({ verdict, index }) => verdict === "ok" && levels[index]! < usual - FAINT_DB,
  );
  const wrong = verdicts.filter(({ verdict, kind }) => verdict === "wrong-pitch" && kind !== "octave");
  const spectrumAt = makeSpectrum(features.sound.samples, FRAME);
  const power = new Float64Array(FRAME / 2);
  const both = wrong.filter((verdict) => {
    const middle = (verdict.onset! + verdict.offset!) / 2;
    spectrumAt(Math.round(middle * features.sound.sampleRate) - FRAME / 2, power);
    return soundsToo(
      power,
      features.sound.sampleRate / FRAME,
      notes[verdict.index]!.midi!,
      verdict.playedMidi!,
    );
  });
  const loud = both.length >= 2 || (both.length === 1 && (wrong.length <= 2 || faint.length > 0));
  return { loud, doubtful: new Set(loud ? faint.map(({ index }) => index) : []) };
}

/** Whether the partials of one pitch are heard beside those of another. */
function soundsToo(power: Float64Array, hzPerBin: number, expected: number, played: number): boolean {
  const [expectedHz, playedHz] = [midiToHz(expected), midiToHz(played)];
  const at = (hz: number) => {
    const bin = Math.round(hz / hzPerBin);
    let top = bin;
    for (let k = bin - 2; k <= bin + 2; k++) if ((power[k] ?? 0) > (power[top] ?? 0)) top = k;
    return top;
  };
  let strongest = 1e-20;
  for (let n = 1; n <= PARTIALS; n++) strongest = Math.max(strongest, power[at(n * playedHz)] ?? 0);
  let [there, asked] = [0, 0];
  for (let n = 1; n <= PARTIALS; n++) {
    const hz = n * expectedHz;
    if (hz / hzPerBin > power.length - 12) break;
    const nearest = Math.max(1, Math.round(hz / playedHz)) * playedHz;
    if (Math.abs(nearest - hz) < Math.max(SHARED * hz, 4 * hzPerBin)) continue;
    asked++;
    const top = at(hz);
    const peak = power[top]!;
    if (top === Math.round(hz / hzPerBin) - 2 || top === Math.round(hz / hzPerBin) + 2) continue;
    const around = [-7, -6, -5, -4, 4, 5, 6, 7].map((k) => power[top + k] ?? 0).sort((a, b) => a - b)[4]!;
    if (
      peak > around * 10 ** (PRESENT_DB.aboveAround / 10) &&
      peak > strongest / 10 ** (PRESENT_DB.belowStrongest / 10)
    )
      there++;
  }
  return asked >= 2 && there >= 2 && there >= 0.4 * asked;
}
