import { describe, expect, it } from "vitest";
import { recordTake, steadyHabits } from "../../demo/players";
import { type Assessment, assess, listenToSinging, type NoteVerdict } from "../../src/core/listen";
import { asTheSectionPlays, playAlong } from "../../src/core/playalong";
import {
  commonCause,
  differingBars,
  faultOf,
  heapOf,
  judgeSinging,
  layTogether,
  nextOwnLine,
  type OnStand,
} from "../../src/core/practice";
import { causesOf } from "../../src/core/progress";
import { timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";

const tune = line("Bb3:1 C4:1 D4:2 | Eb4:1 D4:1 C4:2 | F4:2 D4:2", { bpm: 80 });
const RATE = 22_050;

/** A voice: a tone with its harmonics that slides into every note, wavers, and breathes between notes. */
function sing(midis: (number | null)[], bpm = 80) {
  const notes = timeline(tune, { bpm }).notes;
  const samples = new Float32Array(Math.ceil(RATE * (notes.at(-1)!.onsetSec + 4)));
  let phase = 0;
  notes.forEach(({ onsetSec, durationSec }, i) => {
    const midi = midis[i];
    if (midi == null) return;
    for (let n = 0; n < durationSec * 0.92 * RATE; n++) {
      const sec = n / RATE;
      const slide = -1.5 * Math.exp(-sec / 0.05);
      const waver = 0.25 * Math.sin(2 * Math.PI * 5.5 * sec);
      phase += (2 * Math.PI * 440 * 2 ** ((midi + slide + waver - 69) / 12)) / RATE;
      const fade = Math.min(1, sec / 0.04, (0.92 * durationSec - sec) / 0.05);
      samples[Math.round((0.5 + onsetSec) * RATE) + n] =
        0.2 * fade * (Math.sin(phase) + 0.5 * Math.sin(2 * phase) + 0.3 * Math.sin(3 * phase));
    }
  });
  return { samples, sampleRate: RATE };
}
const written = timeline(tune).notes.map(({ midi }) => midi!);
const heard = (midis: (number | null)[], a4Hz = 440) =>
  listenToSinging(sing(midis), timeline(tune, { bpm: 80 }), 0.5, a4Hz);

describe("singing", () => {
  it("is there in any octave, slides and wavering included", () => {
    for (const octave of [0, 12, -12]) {
      const sung = heard(written.map((midi) => midi + octave));
      expect(sung.found).toBe(written.length);
      expect(sung.keySemitones).toBe(0);
      expect(judgeSinging(sung).outcome).toBe("clean");
    }
  });

  it("in the singer's own key is right, and told", () => {
    const sung = heard(written.map((midi) => midi - 3));
    expect(sung.found).toBe(written.length);
    expect(sung.keySemitones).toBeCloseTo(-3, 0);
  });

  it("names the notes that were beside, and those without a voice", () => {
    const off = written.map((midi, i) => (i === 3 ? midi - 2 : i === 6 ? null : midi));
    const { notes, found } = heard(off);
    expect(notes[3]).toMatchObject({ heard: "low", measure: "2" });
    expect(notes[6]).toMatchObject({ heard: "silent", cents: null });
    expect(found).toBe(written.length - 2);
  });

  it("is never poor; a child that drones goes on or sings again, and silence says nothing", () => {
    expect(judgeSinging(heard(written.map(() => 60))).outcome).toBe("nearly");
    expect(judgeSinging(heard(written.map(() => null))).outcome).toBeNull();
  });
});

// The flute reads concert pitch: the key of the tune has two flats.
const { part } = partFor(line("Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 C5:2 | F5:2 D5:2", { bpm: 80 }), "flute");
function take(change: Partial<typeof steadyHabits> = {}, seed = 3): Assessment {
  const { pcm } = recordTake(
    part,
    "flute",
    80,
    { ...steadyHabits, ...change },
    { noise: 0.003, echo: 0.1 },
    seed,
  );
  return assess(part, pcm, { bpm: 80, instrumentId: "flute" });
}

describe("two takes of a line", () => {
  const mine = take();
  const changed = (index: number, change: Partial<NoteVerdict>): Pick<Assessment, "notes"> => ({
    notes: mine.notes.map((note, i) => (i === index ? { ...note, ...change } : note)),
  });

  it("that are alike differ nowhere", () => {
    expect(differingBars(part, mine, mine)).toEqual([]);
  });

  it("differ in the bar where one plays another note, leaves one out or comes early, the gravest first", () => {
    const other = changed(3, {
      verdict: "wrong-pitch",
      kind: "semitone",
      playedMidi: mine.notes[3]!.playedMidi! + 1,
    });
    expect(differingBars(part, mine, other)).toEqual([
      { bar: 1, kinds: ["pitch"], eventIds: [mine.notes[3]!.eventId] },
    ]);
    const both = {
      notes: changed(6, { timing: "late" }).notes.map((note, i) =>
        i === 7 ? { ...note, verdict: "missed" as const } : note,
      ),
    };
    expect(differingBars(part, mine, both)).toMatchObject([{ bar: 2, kinds: ["left-out", "time"] }]);
  });

  it("sound together when the recording is laid under the count by its own first note and tempo", () => {
    const together = layTogether(part, mine)!;
    const first = mine.notes[0]!.onset!;
    expect(together.bpm).toBe(Math.round(mine.take.tempoBpm!));
    // The second of the recording at which its first note sounds comes when the line begins.
    expect(together.lineSec + (first - together.fromSec)).toBeCloseTo(0, 6);
    expect(layTogether(part, { ...mine, take: { ...mine.take, status: "no-match" } })).toBeNull();
  });
});

describe("what a section shares", () => {
  const flatIgnored = (seed: number) => causesOf(take({ ignoresSignature: 1 }, seed), part);

  it("is the cause of most takes, and is played for the ear at those notes alone", () => {
    const clean = causesOf(take({}, 9), part);
    const causes = [flatIgnored(4), flatIgnored(5), clean];
    const common = commonCause(causes)!;
    expect(common).toMatchObject({ takes: 2, of: 3, cause: { kind: "key-signature" } });
    const fault = faultOf(common.cause, part)!;
    expect(fault).toMatchObject({ kind: "played-as", semitones: 1 });
    const timed = timeline(part, { bpm: 80 });
    const plan = playAlong(timed);
    const wrong = asTheSectionPlays(plan, timed, fault);
    const moved = plan.events.filter((event, i) => event.midi !== wrong.events[i]!.midi);
    // B flat and E flat stand in bars 1 and 2; one of the two is what most share.
    const shared = common.cause.places.map(({ eventId }) => eventId);
    expect(shared.length).toBeGreaterThan(0);
    expect(moved.map(({ eventId }) => eventId)).toEqual(shared);
  });

  it("is nothing with few takes, and nothing where nobody shares anything", () => {
    expect(commonCause([flatIgnored(4), flatIgnored(5)])).toBeNull();
    const clean = [10, 11, 12].map((seed) => causesOf(take({}, seed), part));
    expect(commonCause(clean)).toBeNull();
  });
});

describe("the heaps of a stand", () => {
  const plain: OnStand = {
    state: "open",
    extra: false,
    chosen: false,
    opened: true,
    overdue: false,
    timesPerWeek: 5,
    practisedOn: [],
  };
  it("hold required work first, extras after, and what was chosen apart", () => {
    const today = "2026-03-04";
    const lies = (change: Partial<OnStand>) => heapOf({ ...plain, ...change }, today);
    expect(lies({})).toBe("todo");
    expect(lies({ practisedOn: [today] })).toBe("done-today");
    // Sent, with four days left; and sent where once was asked.
    expect(lies({ state: "sent", practisedOn: ["2026-03-02"] })).toBe("todo");
    expect(lies({ state: "sent", timesPerWeek: 1, practisedOn: [today] })).toBe("done");
    expect(lies({ state: "again", extra: true })).toBe("todo");
    expect(lies({ extra: true })).toBe("extra");
    expect(lies({ extra: true, chosen: true })).toBe("chosen");
    expect(lies({ opened: false })).toBe("later");
  });

  it("offer the line after the furthest that was given, never one before it", () => {
    const book = ["a", "b", "c", "d", "e"].map((id) => ({ id }));
    expect(nextOwnLine(book, new Set(["a", "c"]), new Set())).toEqual({ id: "d" });
    expect(nextOwnLine(book, new Set(["a", "c"]), new Set(["d"]))).toEqual({ id: "e" });
    expect(nextOwnLine(book, new Set(["e"]), new Set())).toBeNull();
    expect(nextOwnLine(book, new Set(), new Set())).toBeNull();
  });
});
