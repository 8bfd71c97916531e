import { describe, expect, it } from "vitest";
import { type PlayedNote, synthesise } from "../../demo/synth";
import { extractFeatures } from "../../src/core/listen";
import { ownBeat } from "../../src/core/listen/beat";
import { pitchReach } from "../../src/core/listen/plan";
import { listenAgain } from "../../src/core/listen/second-listening";
import { timeline } from "../../src/core/score";
import { heardAs } from "../support/heard";
import { line, partFor } from "../support/music";
import { spotless } from "../support/verdicts";

const { part } = partFor(line("Bb4:1 C5:1 D5:1 D5:1 | F5:1 Eb5:1 D5:1 C5:1 | Bb4:4"), "clarinet");
const tune = timeline(part, { bpm: 80 });
const { notes } = tune;
const RUN = { pass: 0, part: 0 };
const LEAD_SEC = 0.6;

/**
 * Note 2 was matched with nothing, and the sound in its time was given to the note before it.
 *
 * @param sounding  what is played in its time: a sounding pitch, or null for silence
 * @param loudness  how loudly, 0 to 1; the others have 0.7
 */
function missedInTheSoundBefore(sounding: number | null, loudness = 0.7) {
  const played = notes
    .filter(({ index }) => index !== 2 || sounding !== null)
    .map(
      (note): PlayedNote => ({
        atSec: LEAD_SEC + note.onsetSec,
        lengthSec: 0.95 * note.durationSec,
        midi: note.index === 2 ? sounding! : note.midi!,
        loudness: note.index === 2 ? loudness : 0.7,
        legato: false,
      }),
    );
  const pcm = synthesise(played, "clarinet", 9, { noise: 0.002, echo: 0.1 }, 3);
  const features = extractFeatures(pcm, pitchReach(tune, false));
  const heard = notes.map((note, i) => {
    if (i === 2) return undefined;
    const onsetSec = LEAD_SEC + note.onsetSec;
    const offsetSec = onsetSec + (i === 1 ? 2 : 1) * 0.95 * note.durationSec;
    return heardAs(note, { run: RUN, onsetSec, offsetSec });
  });
  const points = heard.flatMap((each, i) =>
    each ? [{ quarters: notes[i]!.onsetQuarters, sec: each.onsetSec, run: RUN }] : [],
  );
  const verdicts = spotless(part).notes.map((verdict, i) => ({
    ...verdict,
    ...(heard[i]
      ? { onset: heard[i].onsetSec, offset: heard[i].offsetSec }
      : { verdict: "missed" as const, onset: null, offset: null, playedMidi: null }),
  }));
  return listenAgain(notes, verdicts, heard, ownBeat(points, 0.75), features, 0)[2]!;
}

describe("a note that was matched with nothing", () => {
  it("was played where its own pitch sounds in its time, though that sound was given to another note", () => {
    const verdict = missedInTheSoundBefore(notes[2]!.midi);
    expect(verdict.verdict).toBe("ok");
    expect(verdict.onset).toBeGreaterThan(LEAD_SEC + notes[2]!.onsetSec - 0.05);
    expect(verdict.offset).toBeLessThan(LEAD_SEC + notes[3]!.onsetSec + 0.05);
    expect(verdict.confidence).toBeLessThan(0.5);
  });

  it("was played, though far more softly than the others", () => {
    expect(missedInTheSoundBefore(notes[2]!.midi, 0.15).verdict).toBe("ok");
  });

  it.each([
    ["the note before it goes on", notes[1]!.midi],
    ["another pitch sounds", notes[2]!.midi! + 3],
    ["there is silence", null],
  ])("is missed where %s", (_what, sounding) => {
    expect(missedInTheSoundBefore(sounding).verdict).toBe("missed");
  });
});
