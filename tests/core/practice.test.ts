import { describe, expect, it } from "vitest";
import { assess } from "../../src/core/listen";
import { fingeringFor, instrumentById, type Pitch, parsePitch, pitchName } from "../../src/core/music";
import {
  type CardFact,
  CHANGE_GAPS,
  cardStates,
  cardsDue,
  changeTurn,
  climb,
  echoPatterns,
  fingerMoves,
  helpFor,
  improvements,
  judgeRound,
  type Leg,
  type LineFact,
  lookQuestions,
  missingFor,
  nearestKnown,
  nextGap,
  ownLadder,
  type PathOptions,
  partsOf,
  pathOf,
  reviewed,
  roundOf,
  smaller,
  standingOf,
  startingTempo,
  tongued,
  troubledChange,
} from "../../src/core/practice";
import { seededRandom } from "../../src/core/rhythm";
import { type Score, snagsOf, timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";
import { CAREFUL, perform } from "../support/performer";
import { loadBank } from "../support/sounds";
import { spotless } from "../support/verdicts";

const PLAIN: PathOptions = {
  steps: null,
  material: "line",
  goalBpm: 80,
  rungs: [80],
  records: true,
  accompanied: false,
  fingered: true,
  snags: [],
  lastTake: null,
  order: "halves",
  tongueFirst: true,
  readFirst: false,
};
const EIGHT = "Bb4:1 C5:1 D5:2 | D5:1 C5:1 Bb4:2 | Bb4:4 | C5:4 | D5:4 | C5:4 | Bb4:4 | Bb4:4";
const SLURRED = "Bb4:1( C5:1) D5:1( C5:1) | Bb4:4";

describe("the path of a line", () => {
  it("leads in the order of the trade and leaves out what has nothing to do", () => {
    const steps = (score: Score, options: Partial<PathOptions> = {}) =>
      pathOf(score, { ...PLAIN, ...options }).map(({ step }) => step);
    expect(steps(line(EIGHT))).toEqual([
      "listen",
      "look",
      "count",
      "finger",
      "slow",
      "whole",
      "record",
      "perform",
    ]);
    expect(steps(line(SLURRED))).toContain("tongue");
    expect(steps(line(EIGHT), { readFirst: true }).slice(0, 3)).toEqual(["look", "count", "listen"]);
    expect(steps(line(EIGHT), { records: false })).not.toContain("record");
    expect(steps(line(EIGHT), { material: "tones" })).toEqual(["listen", "record", "perform"]);
    expect(steps(line(EIGHT), { material: "counting" })).toEqual(["count", "record", "perform"]);
  });

  it("keeps the director's own order, with a step twice", () => {
    const path = pathOf(line(EIGHT), { ...PLAIN, steps: ["whole", "count", "whole"] });
    expect(path.map(({ id }) => id)).toEqual(["whole", "count", "whole-2", "record"]);
    const asked = pathOf(line(EIGHT), { ...PLAIN, steps: ["count", "perform"], rungs: [60, 80] });
    expect(asked.map(({ step }) => step)).toEqual(["count", "ladder", "record", "perform"]);
  });

  it("puts a line together in halves, or from its end", () => {
    expect(partsOf(line(EIGHT), "halves")).toEqual([
      { from: 0, to: 3 },
      { from: 4, to: 7 },
      { from: 0, to: 7 },
    ]);
    expect(partsOf(line(EIGHT), "backwards")).toEqual([
      { from: 7, to: 7 },
      { from: 6, to: 7 },
      { from: 4, to: 7 },
      { from: 0, to: 7 },
    ]);
    const pickup = line("F4:1 | Bb4:4 | C5:4 | D5:4 | Bb4:3");
    expect(partsOf(pickup, "backwards").at(-2)!.from).toBeGreaterThan(1);
    expect(partsOf(pickup, "halves")[0]).toEqual({ from: 0, to: 2 });
  });

  it("takes out what went wrong in the last take, then what the instrument stumbles over, and puts it back", () => {
    const { part, instrument } = partFor(line("Bb4:1 C5:1 D5:2 | Bb4:1 B4:1 C5:2 | C5:4 | D5:4"), "trumpet");
    const snags = snagsOf(part, instrument, "widening");
    const accidental = snags.find(({ kind }) => kind === "accidental")!;
    const typical = pathOf(part, { ...PLAIN, snags }).find(({ step }) => step === "snags")!;
    expect(typical.places.map(({ id }) => id)).toEqual(["snag 1-1", "joined 0-2"]);
    expect(typical.places[0]!.why).toEqual(accidental);

    const take = spotless(part, { 6: { verdict: "wrong-pitch" } });
    const own = pathOf(part, { ...PLAIN, snags: [], lastTake: take }).find(({ step }) => step === "snags")!;
    expect(own.places.map(({ id }) => id)).toEqual(["snag 2-2", "joined 1-3"]);
    expect(own.places[0]!.why).toBe("last-take");
  });

  it("hears what each step asks for", () => {
    const { part } = partFor(line(SLURRED), "trumpet");
    const [leg] = pathOf(part, { ...PLAIN, steps: ["tongue"], records: false });
    const [tongue, slur] = leg!.places;
    const attacks = (score: Score) => timeline(score).notes.map(({ slurred }) => slurred);
    expect(attacks(roundOf(part, leg!, tongue!, "trumpet").score)).toEqual([
      false,
      false,
      false,
      false,
      false,
    ]);
    expect(attacks(roundOf(part, leg!, slur!, "trumpet").score)).toEqual([false, true, false, true, false]);
    const [count] = pathOf(part, { ...PLAIN, steps: ["count"] });
    expect(roundOf(part, count!, count!.places[0]!, "trumpet").mode).toBe("rhythm");
    const [one] = pathOf(part, { ...PLAIN, steps: ["one-note"] });
    const held = timeline(roundOf(part, one!, one!.places[0]!, "trumpet").score).notes;
    expect(held.map(({ durationQuarters }) => durationQuarters)).toEqual([2, 2, 4]);
    // Concert F is written G for the trumpet (common practice, no published source).
    expect(new Set(held.map(({ written }) => pitchName(written!, false)))).toEqual(new Set(["G"]));
  });

  it("begins at a tempo in which the densest bar can be placed", () => {
    expect(startingTempo(line("Bb4:1 C5:1 D5:1 C5:1 | Bb4:4"), 80)).toEqual({ measureIndex: 0, bpm: 80 });
    const eighths = startingTempo(line("Bb4:4 | Bb4:1/2 C5:1/2 D5:1/2 C5:1/2 Bb4:2"), 120);
    expect(eighths.measureIndex).toBe(1);
    expect(eighths.bpm).toBe(72);
    // Sixteenths would fall under half the goal: there the pulse is lost.
    expect(startingTempo(line("Bb4:1/4 C5:1/4 D5:1/4 C5:1/4 Bb4:3"), 120).bpm).toBe(60);
  });
});

describe("where somebody stands on it", () => {
  const path = pathOf(line(EIGHT), {
    ...PLAIN,
    steps: ["look", "slow", "whole", "ladder", "record"],
    rungs: [60, 70, 80],
  });
  let ticks = 0;
  type Told = LineFact extends infer F
    ? F extends LineFact
      ? Omit<F, "id" | "at" | "day" | "seconds">
      : never
    : never;
  const fact = (told: Told, day = "2026-11-26"): LineFact => {
    ticks++;
    const at = `${day}T15:00:00.${String(ticks).padStart(3, "0")}Z`;
    return { id: `fact-${ticks}`, at, day, seconds: 10, ...told } as LineFact;
  };
  const round = (leg: Leg, place: number, outcome: "clean" | "nearly" | "poor", day?: string) =>
    fact(
      { kind: "round", leg: leg.id, place: leg.places[place]!.id, bpm: leg.places[place]!.bpm, outcome },
      day,
    );
  const [look, slow, whole, ladder, record] = path as [Leg, Leg, Leg, Leg, Leg];
  const through = (day: string) => [
    fact({ kind: "did", leg: look.id }, day),
    ...[0, 1, 2].flatMap((place) => [round(slow, place, "clean", day), round(slow, place, "clean", day)]),
    round(whole, 0, "clean", day),
    ...Array.from({ length: 6 }, () => round(ladder, 0, "clean", day)),
    fact({ kind: "did", leg: record.id }, day),
  ];

  it("begins at the beginning and goes on after two clean rounds", () => {
    expect(standingOf(path, [], "2026-11-26")).toMatchObject({ leg: 0, place: 0, clean: 0 });
    const facts = [fact({ kind: "did", leg: "look" }), round(slow, 0, "clean")];
    expect(standingOf(path, facts, "2026-11-26")).toMatchObject({ leg: 1, place: 0, clean: 1, passes: 2 });
    facts.push(round(slow, 0, "clean"));
    expect(standingOf(path, facts, "2026-11-26")).toMatchObject({ leg: 1, place: 1, clean: 0 });
    facts.push(round(slow, 1, "clean"), round(slow, 1, "poor"), round(slow, 1, "clean"));
    expect(standingOf(path, facts, "2026-11-26")).toMatchObject({ leg: 1, place: 1, clean: 1 });
  });

  it("comes to the same place from the same facts in any order, with some told twice", () => {
    const facts = through("2026-11-26");
    const expected = standingOf(path, facts, "2026-11-26");
    const random = seededRandom(4);
    for (let turn = 0; turn < 20; turn++) {
      const shuffled = [...facts, facts[3]!, facts[7]!].sort(() => random() - 0.5);
      expect(standingOf(path, shuffled, "2026-11-26")).toEqual(expected);
    }
    expect(expected.leg).toBe(path.length);
    expect(expected.daysThrough).toEqual(["2026-11-26"]);
  });

  it("climbs after two clean rounds, steps down after two poor ones, and never above the goal", () => {
    const before = [
      fact({ kind: "left", leg: "look" }),
      fact({ kind: "left", leg: "slow" }),
      fact({ kind: "left", leg: "whole" }),
    ];
    const played = (...outcomes: ("clean" | "nearly" | "poor")[]) =>
      standingOf(path, [...before, ...outcomes.map((each) => round(ladder, 0, each))], "2026-11-26");
    expect(played("clean", "clean")).toMatchObject({ rung: 1, bpm: 70 });
    expect(played("clean", "clean", "poor", "poor")).toMatchObject({ rung: 0, bpm: 60 });
    expect(played("clean", "nearly", "clean")).toMatchObject({ rung: 0, clean: 1 });
    expect(played("poor", "poor")).toMatchObject({ rung: 0 });
    expect(played(...Array<"clean">(6).fill("clean")).leg).toBe(4);
    expect(climb({ at: 2, clean: 1, poor: 0 }, "clean", 3).at).toBe(3);
  });

  it("plays anew on a later day what has to sit, and leaves done what was looked at", () => {
    const facts = through("2026-11-25");
    const next = standingOf(path, facts, "2026-11-26");
    expect(path[next.leg]!.step).toBe("slow");
    expect(next.done.has("look")).toBe(true);
    // Not through yet: it goes on where it stopped, the day after too.
    const half = facts.slice(0, 4);
    expect(standingOf(path, half, "2026-11-26")).toEqual(standingOf(path, half, "2026-11-25"));
  });

  it("goes where the player goes, and back to what is open after it", () => {
    const facts = [fact({ kind: "went", leg: "record" })];
    expect(path[standingOf(path, facts, "2026-11-26").leg]!.step).toBe("record");
    facts.push(fact({ kind: "did", leg: "record" }));
    expect(path[standingOf(path, facts, "2026-11-26").leg]!.step).toBe("look");
  });

  it("passes over what is no longer on the path", () => {
    const facts = [
      ...through("2026-11-26"),
      fact({ kind: "did", leg: "sing" }),
      fact({ kind: "round", leg: "slow", place: "part 90-91", bpm: 60, outcome: "clean" }),
    ];
    expect(standingOf(path.slice(1), facts, "2026-11-26").leg).toBe(4);
  });

  it("offers help after poor rounds once", () => {
    const facts = [
      fact({ kind: "did", leg: "look" }),
      ...Array.from({ length: 3 }, () => round(slow, 0, "poor")),
    ];
    expect(standingOf(path, facts, "2026-11-26").poor).toBe(3);
    facts.push(fact({ kind: "offered", leg: "slow" }));
    expect(standingOf(path, facts, "2026-11-26").poor).toBe(0);
    expect(helpFor(slow, slow.places[0]!, 60, true)).toEqual([
      "change",
      "smaller",
      "slower",
      "fingers",
      "rest",
      "another",
      "tomorrow",
    ]);
    expect(
      smaller(
        { from: 4, to: 7 },
        new Map([
          [6, 2],
          [4, 1],
        ]),
      ),
    ).toEqual({ from: 6, to: 7 });
    expect(smaller({ from: 4, to: 7 }, new Map())).toEqual({ from: 4, to: 5 });
  });

  it("counts as learned by the band's own rule", () => {
    const standing = standingOf(path, [...through("2026-11-24"), ...through("2026-11-26")], "2026-11-26");
    expect(Object.keys(standing.cleanDays)).toEqual(["2026-11-24", "2026-11-26"]);
    expect(missingFor({ kind: "clean-days", passes: 3, days: 2 }, standing)).toBeNull();
    expect(missingFor({ kind: "clean-days", passes: 3, days: 3 }, standing)).toEqual({
      cleanDays: 1,
      passes: 3,
    });
    expect(missingFor({ kind: "tomorrow" }, { cleanDays: {}, daysThrough: ["2026-11-24"] })).toBeNull();
    expect(
      missingFor({ kind: "no-mistakes" }, { cleanDays: {}, daysThrough: ["2026-11-24"] }),
    ).not.toBeNull();
  });
});

describe("a round", () => {
  const { part } = partFor(line(EIGHT), "trumpet");
  it("is clean without a wrong note, poor under seven in ten, and nothing where nothing was heard", () => {
    expect(judgeRound(spotless(part)).outcome).toBe("clean");
    expect(judgeRound(spotless(part, { 3: { timing: "late" } })).outcome).toBe("clean");
    expect(judgeRound(spotless(part, { 3: { verdict: "wrong-pitch" } })).outcome).toBe("nearly");
    expect(
      judgeRound(spotless(part, {}, { breaks: [{ kind: "restart", atSec: 3, seconds: 1, measure: "2" }] }))
        .outcome,
    ).toBe("nearly");
    const bad = Object.fromEntries([0, 1, 2, 3, 4].map((i) => [i, { verdict: "missed" as const }]));
    expect(judgeRound(spotless(part, bad)).outcome).toBe("poor");
    const quiet = spotless(
      part,
      {},
      { take: { status: "too-quiet", tempoBpm: null, driftPercent: null, tuningCents: null, flags: [] } },
    );
    expect(judgeRound(quiet).outcome).toBeNull();
  });
  it("tongues every note of a slur", () => {
    expect(timeline(tongued(line(SLURRED))).notes.some(({ slurred }) => slurred)).toBe(false);
  });
});

describe("the two-note change", () => {
  const trumpet = instrumentById("trumpet");
  const { part } = partFor(line("Bb4:1 C5:1 D5:2"), "trumpet");
  const [c, d] = [parsePitch("C5"), parsePitch("D5")];
  it("has six seconds, then five, four, until it is in time", () => {
    expect(CHANGE_GAPS[0]).toBe(6);
    const gaps = CHANGE_GAPS.map((gap) => {
      const [from, to] = timeline(changeTurn(c, d, gap, part.parts[0]), { bpm: 60 }).notes;
      return to!.onsetSec - from!.onsetSec - from!.durationSec;
    });
    expect(gaps).toEqual([6, 5, 4, 3, 2, 1, 0]);
    let drill = { at: 0, poor: 0 };
    for (const outcome of ["clean", "poor", "nearly", "clean", "poor", "poor"] as const)
      drill = nextGap(drill, outcome);
    expect(drill).toEqual({ at: 1, poor: 0 });
  });
  it("is judged by what is played, at every length of the pause", async () => {
    const bank = await loadBank("trumpet");
    for (const gap of [6, 3, 1, 0]) {
      const turn = changeTurn(c, d, gap, part.parts[0]);
      const right = perform(turn, bank, 60, trumpet, { ...CAREFUL, seed: gap + 1 });
      expect([
        gap,
        judgeRound(assess(turn, right.pcm, { bpm: 60, instrumentId: "trumpet" })).outcome,
      ]).toEqual([gap, "clean"]);
      const stuck = perform(changeTurn(c, c, gap, part.parts[0]), bank, 60, trumpet, {
        ...CAREFUL,
        seed: gap + 1,
      });
      expect(judgeRound(assess(turn, stuck.pcm, { bpm: 60, instrumentId: "trumpet" })).outcome).not.toBe(
        "clean",
      );
    }
  });
  it("is found where a round stumbled over it alone", () => {
    const notes = timeline(part).notes;
    expect(troubledChange(notes, spotless(part, { 1: { verdict: "wrong-pitch" } }).notes)).toMatchObject({
      from: { letter: "C" },
      to: { letter: "D" },
    });
    expect(
      troubledChange(notes, spotless(part, { 1: { timing: "late" }, 2: { verdict: "missed" } }).notes),
    ).toBeNull();
    expect(troubledChange(notes, spotless(part).notes)).toBeNull();
  });
});

describe("a new note", () => {
  const how = (instrumentId: string, name: string) => ({
    pitch: parsePitch(name),
    fingering: fingeringFor(instrumentById(instrumentId), parsePitch(name))?.choices[0] ?? null,
  });
  it("is built from the known note from which least moves", () => {
    // Trumpet: D is 1-3, E 1-2, C open, G open (common practice, no published source).
    const known = ["C4", "D4", "E4"].map((name) => how("trumpet", name));
    expect(pitchName(nearestKnown(how("trumpet", "F4"), known)!.pitch)).toBe("E4");
    expect(nearestKnown(how("trumpet", "F4"), [])).toBeNull();
  });
  it("says which fingers stay and which move", () => {
    const moves = (instrument: string, a: string, b: string) =>
      fingerMoves(how(instrument, a).fingering!, how(instrument, b).fingering!)!;
    // E 1-2 to D 1-3: the first valve stays (common practice, no published source).
    expect(moves("trumpet", "E4", "D4")).toMatchObject({ stay: [1], up: [2], down: [3], partials: 0 });
    // Clarinet low G, thumb and six fingers; low A lifts the ring finger of the right hand (common practice, no published source).
    expect(moves("clarinet", "G3", "A3")).toMatchObject({ stay: [1, 2, 3, 4, 5], up: [6], thumb: "stays" });
    expect(moves("clarinet", "G3", "D5")).toMatchObject({ up: [], down: [], register: "down" });
    expect(moves("trombone", "F3", "C3").slide).toEqual([1, 6]);
    expect(fingerMoves(how("trumpet", "E4").fingering!, how("trombone", "Bb3").fingering!)).toBeNull();
  });
  it("is echoed on itself alone", () => {
    const { part } = partFor(line("Bb4:4"), "trumpet");
    const score = echoPatterns(parsePitch("E4"), part.parts[0]);
    expect(new Set(timeline(score).notes.map(({ midi }) => midi))).toEqual(new Set([62]));
    for (const { events } of score.parts[0].measures)
      expect(events.reduce((sum, { duration }) => sum + Number(duration), 0)).toBe(4);
  });
});

describe("looking before playing", () => {
  const { part } = partFor(line(EIGHT), "clarinet");
  const questions = lookQuestions(part, [parsePitch("E5")], 3);
  it("asks for the signature of this instrument", () => {
    // Concert B flat is C major for the clarinet (common practice, no published source).
    const key = questions.find(({ kind }) => kind === "key")!;
    expect(key).toMatchObject({ answer: 0 });
    if (key.kind === "key") expect(new Set(key.choices).size).toBe(3);
  });
  it("asks where the new note is, and knows every place of it", () => {
    const { notes } = timeline(part);
    const wanted = notes
      .filter(({ written }) => pitchName(written as Pitch) === "E5")
      .map(({ eventId }) => eventId);
    const find = questions.find(({ kind }) => kind === "find");
    if (wanted.length > 0) expect(find).toMatchObject({ eventIds: wanted });
  });
  it("has the right answer among the choices, once", () => {
    for (let seed = 0; seed < 30; seed++)
      for (const question of lookQuestions(part, [], seed))
        if ("choices" in question)
          expect((question.choices as unknown[]).filter((each) => each === question.answer)).toHaveLength(1);
  });
  it("is right about the bars", () => {
    const same = lookQuestions(part, [], 1).find(({ kind }) => kind === "same");
    // Bars 3, 7 and 8 are one B flat each; 4 and 6 one C.
    if (same?.kind === "same")
      expect([same.measure, same.answer].sort()).toSatisfy((pair: string[]) =>
        ["3,7", "3,8", "4,6"].includes(pair.join()),
      );
    const beats = lookQuestions(part, [], 1).find(({ kind }) => kind === "beats");
    expect(beats).toMatchObject({ measure: "1", answer: 2 });
  });
});

describe("cards", () => {
  it("come back as the published algorithm has it", () => {
    // FSRS 6 with default weights: six Good, two Again, five Good, each on its due day; the intervals in days are the vector of
    // the algorithm's reference implementations (open-spaced-repetition, test of the default scheduler), from memory.
    const ratings = [..."GGGGGGAAGGGGG"].map((each) =>
      each === "G" ? ("good" as const) : ("again" as const),
    );
    let state = null as ReturnType<typeof reviewed> | null;
    let now = "2022-11-29T12:30:00.000Z";
    const days = ratings.map((rating) => {
      state = reviewed(state, rating, now);
      now = state.due;
      return state.scheduledDays;
    });
    expect(days).toEqual([0, 2, 11, 46, 163, 498, 0, 0, 2, 4, 7, 12, 21]);
  });
  it("are the same on two devices that were told the same", () => {
    const facts: CardFact[] = ["good", "again", "easy", "hard"].map((rating, i) => ({
      id: `card-${i}`,
      at: `2026-11-2${i}T10:00:00.000Z`,
      card: "name 60",
      rating: rating as CardFact["rating"],
    }));
    expect(cardStates([...facts].reverse())).toEqual(cardStates([...facts, facts[1]!]));
  });
  it("shows what is due first, then a few new ones", () => {
    const deck = Array.from({ length: 20 }, (_, i) => `name ${60 + i}`);
    const states = cardStates([
      { id: "1", at: "2026-11-20T10:00:00.000Z", card: "name 65", rating: "again" },
    ]);
    const due = cardsDue(deck, states, "2026-11-26T10:00:00.000Z", 12);
    expect(due[0]).toBe("name 65");
    expect(due).toHaveLength(7);
    expect(cardsDue(deck, states, "2026-11-20T10:00:00.000Z", 12)).not.toContain("name 65");
  });
});

describe("the end of a sitting", () => {
  it("tells only what was measured to be better", () => {
    const before = [
      { kind: "round", outcome: "clean", bpm: 60, seconds: 10 },
      { kind: "tone", heldSec: 6, seconds: 8 },
    ];
    const today = [
      { kind: "round", outcome: "clean", bpm: 72, seconds: 10 },
      { kind: "tone", heldSec: 5, seconds: 8 },
    ];
    expect(improvements(before, today)).toEqual([{ kind: "tempo", from: 60, to: 72 }]);
    expect(improvements(today, before)).toEqual([{ kind: "tone", from: 5, to: 6 }]);
    expect(improvements([], [{ kind: "round", outcome: "poor", bpm: 72, seconds: 10 }])).toEqual([]);
  });
  it("makes a ladder of its own up to the goal", () => {
    expect(ownLadder(60, 62)).toEqual([60, 61, 62]);
  });
});
