import { describe, expect, it } from "vitest";
import { type PlayedNote, synthesise } from "../../demo/synth";
import type { Pcm } from "../../src/core/audio";
import { assess } from "../../src/core/listen";
import { ownBeat } from "../../src/core/listen/beat";
import { partialOnset } from "../../src/core/listen/partials";
import type { Segment } from "../../src/core/listen/segments";
import { timingsOf } from "../../src/core/listen/timing";
import { midiToHz } from "../../src/core/music";
import { seededRandom } from "../../src/core/rhythm";
import { timeline } from "../../src/core/score";
import { heardAs } from "../support/heard";
import { line, partFor } from "../support/music";

const RATE = 44_100;

describe("part of a line", () => {
  const tune = line(
    "Bb4:1 C5:1 D5:1 F5:1 | Eb5:1 D5:1 C5:2 | D5:1 Eb5:1 F5:1 D5:1 | C5:1 Bb4:1 C5:2 | F5:1 D5:1 Bb4:1 D5:1 | C5:1 Eb5:1 D5:2 | Bb4:1 D5:1 C5:1 Bb4:1 | C5:2 Bb4:2",
    { bpm: 84 },
  );
  const other = line(
    "F5:1 Eb5:1 C5:1 D5:1 | Bb4:1 F5:1 D5:2 | C5:1 C5:1 Eb5:1 F5:1 | D5:1 F5:1 Eb5:2 | Bb4:1 C5:1 Eb5:1 C5:1 | F5:1 F5:1 Eb5:2 | D5:1 C5:1 F5:1 Eb5:1 | D5:2 F5:2",
    { bpm: 84 },
  );
  const { part } = partFor(tune, "clarinet");
  const options = { bpm: 84, instrumentId: "clarinet" };

  /** The first notes, every fourth of them wrong, then voices from another room for as long again. */
  function begunAndStopped(count: number): Pcm {
    const random = seededRandom(9);
    const played = timeline(part, { bpm: 68 })
      .notes.slice(0, count)
      .map(
        (note, i): PlayedNote => ({
          atSec: 0.8 + note.onsetSec,
          lengthSec: 0.9 * note.durationSec,
          midi: note.midi! + (i % 4 === 3 ? 1 : 0),
          loudness: 0.7,
        }),
      );
    const end = played.at(-1)!.atSec + played.at(-1)!.lengthSec;
    const pcm = synthesise(played, "clarinet", end + 12, { noise: 0.002, echo: 0.2 }, 5);
    // Glides of a voice, 15 dB below, one after the other.
    let phase = 0;
    for (let sec = 0; sec < end + 11; sec += 0.45) {
      const [from, to] = [52 + 10 * random(), 52 + 10 * random()];
      for (let i = 0; i < 0.3 * RATE; i++) {
        phase += (2 * Math.PI * midiToHz(from + ((to - from) * i) / 0.3 / RATE)) / pcm.sampleRate;
        const at = Math.round(sec * pcm.sampleRate) + i;
        const shape = Math.sin((Math.PI * i) / 0.3 / RATE);
        if (at < pcm.samples.length)
          pcm.samples[at]! += 0.02 * shape * (Math.sin(phase) + 0.5 * Math.sin(2 * phase));
      }
    }
    return pcm;
  }

  it.each([9, 12, 16])("of %i notes, a quarter wrong, beside voices: is known as the line", (count) => {
    const { take, notes, breaks } = assess(part, begunAndStopped(count), options);
    expect(take.status).toBe("assessed");
    const right = notes.filter((_, i) => i < count && i % 4 !== 3);
    expect(right.filter(({ verdict }) => verdict === "ok").length).toBeGreaterThanOrEqual(right.length - 2);
    expect(breaks.map(({ kind }) => kind)).toContain("stopped-early");
  });

  it("is not taken for another line in the same key", () => {
    const foreign = partFor(other, "clarinet").part;
    for (const count of [9, 12, 16])
      expect(assess(foreign, begunAndStopped(count), options).take.status).not.toBe("assessed");
  });
});

describe("a note that begins while another rings", () => {
  /** One tone dying away over seconds, another beginning in the middle. */
  function ringing(first: number, second: number, atSec: number): Pcm {
    const sound = (midi: number, sec: number) =>
      [1, 0.6, 0.4, 0.3].reduce(
        (sum, amount, k) => sum + amount * Math.sin(2 * Math.PI * midiToHz(midi) * (k + 1) * sec),
        0,
      );
    const samples = Float32Array.from({ length: 3 * RATE }, (_, i) => {
      const sec = i / RATE;
      const ring = 0.15 * Math.exp(-Math.max(0, sec - atSec) * 4) * sound(first, sec);
      const next = sec < atSec ? 0 : 0.1 * Math.min(1, (sec - atSec) / 0.01) * sound(second, sec);
      return ring + next;
    });
    return { samples, sampleRate: RATE };
  }

  it.each([
    [60, 62],
    [70, 69],
    [58, 65],
    [77, 74],
  ])("is placed by its own partials: %i to %i", (first, second) => {
    for (const found of [1.52, 1.44, 1.6])
      expect(Math.abs(partialOnset(ringing(first, second, 1.5), second, first, found)! - 1.5)).toBeLessThan(
        0.025,
      );
  });

  it("is left where it was found when it has no partial of its own, or none that rises", () => {
    expect(partialOnset(ringing(60, 72, 1.5), 72, 60, 1.52)).toBeNull();
    expect(partialOnset(ringing(60, 60, 1.5), 66, 60, 1.52)).toBeNull();
    expect(partialOnset({ samples: new Float32Array(RATE), sampleRate: RATE }, 62, 60, 0.5)).toBeNull();
  });
});

const RUN = { pass: 0, part: 0 };

describe("out of time", () => {
  const { notes } = timeline(
    line("Bb4:1 C5:1 D5:1 C5:1 | Bb4:1 C5:1 D5:1 C5:1 | Bb4:1 C5:1 D5:1 C5:1 | Bb4:4", { bpm: 60 }),
  );
  interface Way {
    sureAttack?: boolean;
    limit?: number;
    /** Silence before each note, seconds, and how marked its attack is. */
    silenceSec?: number;
    attackDb?: number;
  }
  const words = (offMs: (i: number) => number, way: Way = {}) => {
    const { sureAttack = true, limit, silenceSec = 0, attackDb = 10 } = way;
    const onset = (i: number) => 1 + notes[i]!.onsetSec + offMs(i) / 1000;
    const heard = notes.map((note, i) => {
      const onsetSec = onset(i);
      const offsetSec = i + 1 < notes.length ? onset(i + 1) - silenceSec : onsetSec + 1;
      const segment = { midi: note.midi, attackDb } as Segment;
      return heardAs(note, { segment, run: RUN, onsetSec, offsetSec, sureAttack });
    });
    const points = heard.map(({ onsetSec }, i) => ({
      quarters: notes[i]!.onsetQuarters,
      sec: onsetSec,
      run: RUN,
    }));
    const pointOf = new Map(points.map((_, i) => [i, i]));
    return timingsOf(notes, heard, ownBeat(points, 1), pointOf, limit).notes.map(({ timing }) => timing);
  };

  it("is what stands out of a steady take", () => {
    expect(words((i) => (i === 6 ? 120 : i % 2 ? 8 : -8))[6]).toBe("late");
    expect(words((i) => (i === 6 ? -120 : i % 2 ? 8 : -8))[6]).toBe("early");
    expect(words((i) => (i === 6 ? 50 : 0)).every((word) => word === "ok")).toBe(true);
    expect(words((i) => (i === 6 ? 50 : 0), { limit: 40 })[6]).toBe("late");
  });

  it("is not what lies within the spread of an unsteady one", () => {
    expect(words((i) => (i % 2 ? 60 : -60)).every((word) => word === "ok")).toBe(true);
  });

  it("says nothing where it is not sure when the notes begin", () => {
    const off = (i: number) => (i === 6 ? 120 : i % 2 ? 20 : -20);
    expect(words(off)[6]).toBe("late");
    expect(words(off, { sureAttack: false })[6]).toBe("ok");
  });

  it("says nothing of a soft start out of silence", () => {
    const off = (i: number) => (i === 6 ? 120 : i % 2 ? 8 : -8);
    expect(words(off, { silenceSec: 0.3 })[6]).toBe("ok");
    expect(words(off, { silenceSec: 0.3, attackDb: 20 })[6]).toBe("late");
  });

  it("says nothing beside a note that is off as well, nor at either end", () => {
    const pair = words((i) => (i === 6 ? 150 : i === 7 ? 120 : i % 2 ? 8 : -8));
    expect([pair[6], pair[7]]).toEqual(["ok", "ok"]);
    expect(words((i) => (i === 0 ? -150 : i % 2 ? 8 : -8))[0]).toBe("ok");
    expect(words((i) => (i === notes.length - 1 ? 150 : i % 2 ? 8 : -8)).at(-1)).toBe("ok");
  });
});

describe("sounds beside the line", () => {
  const tune = line("Bb4:2 C5:2 | D5:2 C5:2 | Bb4:2 D5:2 | C5:4", { bpm: 80 });
  const { part } = partFor(tune, "trumpet");

  it.each([
    ["as loud as the notes is an extra", 0.7, 1],
    ["far softer is somebody else's", 0.2, 0],
  ])("%s", (_what, loudness, extras) => {
    const played = timeline(part, { bpm: 80 }).notes.map(
      ({ onsetSec, durationSec, midi }): PlayedNote => ({
        atSec: 0.6 + onsetSec,
        lengthSec: 0.45 * durationSec,
        midi,
        loudness: 0.7,
      }),
    );
    const beside: PlayedNote = {
      atSec: played[2]!.atSec + 0.95,
      lengthSec: 0.3,
      midi: played[2]!.midi! + 4,
      loudness,
    };
    const pcm = synthesise([...played, beside], "trumpet", 16, { noise: 0.001, echo: 0 }, 5);
    const result = assess(part, pcm, { bpm: 80, instrumentId: "trumpet" });
    expect(result.take.status).toBe("assessed");
    expect(result.extras).toHaveLength(extras);
  });
});
