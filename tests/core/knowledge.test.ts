import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { instrumentById, parsePitch, pitchName, pitchToMidi, STAGES } from "../../src/core/music";
import {
  type Evidence,
  everyNoteOf,
  everyNoteTogether,
  evidenceOf,
  type KnowledgeInput,
  knowledgeOf,
  OVER_THE_BREAK,
  suggestStage,
  TAKES_THAT_SHOW,
  withoutExempt,
} from "../../src/core/progress";
import { derivePart, type Score, timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";
import { spotless } from "../support/verdicts";

const midi = (name: string) => String(pitchToMidi(parsePitch(name)));

const shows = (evidence: Evidence[]) =>
  Object.fromEntries(evidence.map(({ kind, thing, right, wrong }) => [`${kind} ${thing}`, [right, wrong]]));

describe("what a take shows", () => {
  // Trumpet reads concert B♭ C D E♭ as C D E F.
  const { part, instrument } = partFor(line("Bb4:1 C5:1 D5:2 | Eb5:2 r:1 D5:1"), "trumpet");

  it("is every note in its octave, every rhythm and the rest before a note", () => {
    expect(shows(evidenceOf(part, instrument, spotless(part)))).toEqual({
      [`note ${midi("C4")}`]: [1, 0],
      [`note ${midi("D4")}`]: [1, 0],
      [`note ${midi("E4")}`]: [2, 0],
      [`note ${midi("F4")}`]: [1, 0],
      "rhythm quarter": [3, 0],
      "rhythm half": [2, 0],
      "rhythm quarter rest": [1, 0],
    });
  });

  it("tells a wrong pitch from a wrong rhythm", () => {
    const evidence = shows(
      evidenceOf(
        part,
        instrument,
        spotless(part, {
          1: { verdict: "wrong-pitch", kind: "semitone", playedMidi: 73 },
          2: { timing: "late" },
          3: { verdict: "missed", timing: null, length: null },
        }),
      ),
    );
    expect(evidence[`note ${midi("D4")}`]).toEqual([0, 1]);
    // Found late: the note is right, its rhythm is not.
    expect(evidence[`note ${midi("E4")}`]).toEqual([2, 0]);
    expect(evidence["rhythm half"]).toEqual([0, 2]);
    expect(evidence["rhythm quarter"]).toEqual([3, 0]);
  });

  it("is nothing for what the device left out, nor for a note that is not judged for this player", () => {
    const left = spotless(part, {
      0: { verdict: "missed", flags: ["not-recorded"], timing: null, length: null },
    });
    expect(shows(evidenceOf(part, instrument, left))[`note ${midi("C4")}`]).toBeUndefined();
    const low = new Set([pitchToMidi(parsePitch("C4"))]);
    const missed = spotless(part, { 0: { verdict: "missed", timing: null, length: null } });
    expect(shows(evidenceOf(part, instrument, missed, low))[`note ${midi("C4")}`]).toBeUndefined();
    expect(withoutExempt(missed, part, low).notes).toHaveLength(4);
  });

  it("is nothing for another piece, a silent take, or a line whose notes are in a book", () => {
    const other = spotless(
      part,
      {},
      { take: { status: "no-match", tempoBpm: null, driftPercent: null, tuningCents: null, flags: [] } },
    );
    expect(evidenceOf(part, instrument, other)).toEqual([]);
    expect(evidenceOf({ ...part, catalogued: true }, instrument, spotless(part))).toEqual([]);
  });

  it("shows the key by the notes that its signature alters, and only by them", () => {
    // Clarinet in concert E♭: F major, B♭ the only flat.
    const { part: own, instrument: clarinet } = partFor(line("Ab4:1 G4:1 Ab4:2", { fifths: -3 }), "clarinet");
    const key = "sign key of F major";
    expect(shows(evidenceOf(own, clarinet, spotless(own)))[key]).toEqual([2, 0]);
    const natural = spotless(own, { 2: { verdict: "wrong-pitch", kind: "key-signature" } });
    expect(shows(evidenceOf(own, clarinet, natural))[key]).toEqual([1, 1]);
    // A missed note says nothing of the key.
    const missed = spotless(own, { 2: { verdict: "missed", timing: null, length: null } });
    expect(shows(evidenceOf(own, clarinet, missed))[key]).toEqual([1, 0]);
  });

  it("shows slurs, ties, dynamics and the step over the break", () => {
    const { part: own, instrument: flute } = partFor(line("p= Bb4:1( C5:1) D5:2~ | D5:2 f= Eb5:2"), "flute");
    const evidence = shows(
      evidenceOf(
        own,
        flute,
        spotless(
          own,
          { 1: { flags: ["re-tongued-slur"] } },
          {
            dynamics: [{ measure: "2", from: "p", to: "f", changeDb: 1, audible: false }],
          },
        ),
      ),
    );
    expect(evidence["sign slur"]).toEqual([0, 1]);
    expect(evidence["rhythm tie"]).toEqual([1, 0]);
    expect(evidence["sign f"]).toEqual([0, 1]);
    // Clarinet A4 to B4: concert G to A above the five notes.
    const over: Score = line("G4:2 A4:2");
    const clarinet = instrumentById("clarinet");
    const { score } = derivePart(over, clarinet, "widening", { octave: 0 });
    expect(shows(evidenceOf(score, clarinet, spotless(score)))[`technique ${OVER_THE_BREAK}`]).toEqual([
      1, 0,
    ]);
    const first = spotless(score, { 0: { verdict: "missed", timing: null, length: null } });
    expect(shows(evidenceOf(score, clarinet, first))[`technique ${OVER_THE_BREAK}`]).toBeUndefined();
  });
});

const nothing: KnowledgeInput = {
  instrument: instrumentById("trumpet"),
  stage: "five-notes",
  taught: [],
  shown: [],
  takenAway: [],
  exempt: [],
  today: "2026-11-26",
};
const note = (name: string) => ({ kind: "note" as const, thing: midi(name) });
const notesOf = (input: Partial<KnowledgeInput>) =>
  [...knowledgeOf({ ...nothing, ...input }).known.notes].sort((a, b) => a - b);

describe("what a player knows", () => {
  it("is what the stages before brought, with the stage as its reason", () => {
    expect(notesOf({})).toEqual([]);
    // Trumpet: the five notes C to G (common practice, no published source).
    expect(notesOf({ stage: "small-tunes" })).toEqual(
      ["C4", "D4", "E4", "F4", "G4"].map((name) => Number(midi(name))),
    );
    const { things } = knowledgeOf({ ...nothing, stage: "small-tunes" });
    expect(things[0]).toEqual({
      ...note("C4"),
      level: "sounds",
      exempt: false,
      reasons: [{ by: "stage", stage: "five-notes" }],
    });
  });

  it("is what was taught until today, and not what is still to come", () => {
    const taught = [
      { ...note("C4"), on: "2026-11-26", said: "No. 1" },
      { ...note("D4"), on: "2026-11-27", said: "No. 2" },
    ];
    expect(notesOf({ taught })).toEqual([Number(midi("C4"))]);
    expect(knowledgeOf({ ...nothing, taught }).things[0]).toMatchObject({
      level: "knows",
      reasons: [{ by: "taught", on: "2026-11-26", said: "No. 1" }],
    });
  });

  it("sounds once it is right in an accepted take, or in several", () => {
    const shown = (cleanTakes: number, acceptedTakes: number) => [
      { ...note("E4"), cleanTakes, acceptedTakes, lastOn: "2026-11-20" },
    ];
    expect(notesOf({ shown: shown(1, 0) })).toEqual([]);
    expect(notesOf({ shown: shown(TAKES_THAT_SHOW - 1, 0) })).toEqual([]);
    expect(notesOf({ shown: shown(TAKES_THAT_SHOW, 0) })).toHaveLength(1);
    expect(knowledgeOf({ ...nothing, shown: shown(1, 1) }).things[0]!.level).toBe("sounds");
  });

  it("is not what the director took away, until it is taught or shown on a later day", () => {
    const takenAway = [{ ...note("C4"), on: "2026-11-20" }];
    const taught = (on: string) => [{ ...note("C4"), on, said: "No. 1" }];
    expect(notesOf({ stage: "small-tunes", takenAway })).not.toContain(Number(midi("C4")));
    expect(notesOf({ taught: taught("2026-11-20"), takenAway })).toEqual([]);
    expect(notesOf({ taught: taught("2026-11-21"), takenAway })).toHaveLength(1);
    const shown = [{ ...note("C4"), cleanTakes: 1, acceptedTakes: 1, lastOn: "2026-11-22" }];
    expect(notesOf({ shown, takenAway })).toHaveLength(1);
  });

  it("lets small hands know a note that does not speak yet", () => {
    const { things, known } = knowledgeOf({ ...nothing, stage: "small-tunes", exempt: [Number(midi("C4"))] });
    expect(things[0]).toMatchObject({ ...note("C4"), level: "knows", exempt: true });
    expect(known.notes.has(Number(midi("C4")))).toBe(true);
  });

  it("is every note of tuned drums from the start, and rhythms for a snare", () => {
    const timpani = knowledgeOf({ ...nothing, instrument: instrumentById("timpani") });
    expect(timpani.known.notes.size).toBeGreaterThan(5);
    const snare = knowledgeOf({ ...nothing, instrument: instrumentById("snare"), stage: "widening" });
    expect(snare.known.notes.size).toBe(0);
    expect(snare.known.rhythms.has("eighth")).toBe(true);
  });

  const thing = fc.oneof(
    fc.integer({ min: 50, max: 80 }).map((each) => ({ kind: "note" as const, thing: String(each) })),
    fc.constantFrom("eighth", "tie", "dotted half").map((each) => ({ kind: "rhythm" as const, thing: each })),
    fc.constantFrom("slur", "key of F major").map((each) => ({ kind: "sign" as const, thing: each })),
  );
  const day = fc.integer({ min: 1, max: 30 }).map((each) => `2026-11-${String(each).padStart(2, "0")}`);
  const taughts = fc.array(
    fc.record({ what: thing, on: day }).map(({ what, on }) => ({ ...what, on, said: "x" })),
    { maxLength: 12 },
  );
  const showns = fc.array(
    fc
      .record({ what: thing, cleanTakes: fc.nat(5), acceptedTakes: fc.nat(2), lastOn: day })
      .map(({ what, ...rest }) => ({ ...what, ...rest })),
    { maxLength: 12 },
  );
  const aways = fc.array(
    fc.record({ what: thing, on: day }).map(({ what, on }) => ({ ...what, on })),
    { maxLength: 5 },
  );
  const keys = (input: KnowledgeInput) =>
    new Set(knowledgeOf(input).things.map(({ kind, thing: each }) => `${kind}/${each}`));

  it("never grows less by more teaching or more evidence, and every thing has a reason", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...STAGES),
        taughts,
        showns,
        aways,
        taughts,
        showns,
        (stage, taught, shown, takenAway, more, further) => {
          const input: KnowledgeInput = { ...nothing, stage, taught, shown, takenAway };
          const before = keys(input);
          const after = keys({ ...input, taught: [...taught, ...more], shown: [...shown, ...further] });
          expect([...before].filter((key) => !after.has(key))).toEqual([]);
          for (const { reasons } of knowledgeOf(input).things) expect(reasons.length).toBeGreaterThan(0);
        },
      ),
      { numRuns: 300 },
    );
  });

  it("is told the same whatever order it was learned in, by one hash", () => {
    fc.assert(
      fc.property(taughts, showns, (taught, shown) => {
        const forth = knowledgeOf({ ...nothing, taught, shown });
        const back = knowledgeOf({ ...nothing, taught: taught.toReversed(), shown: shown.toReversed() });
        expect(back.hash).toBe(forth.hash);
        expect([...back.known.notes].sort()).toEqual([...forth.known.notes].sort());
      }),
    );
  });
});

describe("the next stage", () => {
  const trumpet = instrumentById("trumpet");
  const knowing = (names: string[], stage: (typeof STAGES)[number] = "five-notes") =>
    knowledgeOf({
      ...nothing,
      stage,
      taught: names.map((name) => ({ ...note(name), on: "2026-11-01", said: "x" })),
    });

  it("is near with four of the five notes, and not with three", () => {
    expect(suggestStage(knowing(["C4", "D4", "E4"]), trumpet, "five-notes", 3, 5)).toBeNull();
    expect(suggestStage(knowing(["C4", "D4", "E4", "F4"]), trumpet, "five-notes", 3, 5)).toEqual({
      from: "five-notes",
      to: "small-tunes",
      known: 4,
      of: 5,
      kind: "notes",
    });
  });

  it("counts all notes until the end of the stage, and only those", () => {
    // Small tunes bring three more: eight in all; a note beyond them counts for nothing.
    expect(suggestStage(knowing(["B5"], "small-tunes"), trumpet, "small-tunes", 3, 5)).toBeNull();
    expect(suggestStage(knowing(["A4", "B3"], "small-tunes"), trumpet, "small-tunes", 3, 5)).toMatchObject({
      known: 7,
      of: 8,
    });
  });

  it("follows the weeks of making a sound, or a note that was heard right before", () => {
    const none = knowledgeOf({ ...nothing, stage: "making-a-sound" });
    expect(suggestStage(none, trumpet, "making-a-sound", 4, 5)).toBeNull();
    expect(suggestStage(none, trumpet, "making-a-sound", 5, 5)).toMatchObject({
      to: "five-notes",
      kind: "weeks",
    });
    const one = knowledgeOf({
      ...nothing,
      stage: "making-a-sound",
      shown: [{ ...note("C4"), cleanTakes: 1, acceptedTakes: 1, lastOn: "2026-11-20" }],
    });
    expect(suggestStage(one, trumpet, "making-a-sound", 1, 5)).toMatchObject({ to: "five-notes" });
  });

  it("asks rhythms of a snare, and has nothing beyond the last stage", () => {
    const snare = instrumentById("snare");
    const all = knowledgeOf({ ...nothing, instrument: snare, stage: "widening" });
    expect(suggestStage(all, snare, "widening", 9, 5)).toBeNull();
    const some = knowledgeOf({
      ...nothing,
      instrument: snare,
      taught: ["whole", "half", "quarter", "quarter rest", "4/4", "half rest"].map((each) => ({
        kind: "rhythm" as const,
        thing: each,
        on: "2026-11-01",
        said: "x",
      })),
    });
    expect(suggestStage(some, snare, "five-notes", 1, 5)).toMatchObject({ kind: "rhythms", known: 6, of: 7 });
  });
});

describe("every note you know", () => {
  const written = (score: Score) =>
    score.parts[0].measures.flatMap((measure) => measure.events.map((event) => pitchName(event.pitch!)));

  it("goes up and back in the player's own notes, spelled as in flat keys, and fills its bars", () => {
    const trumpet = instrumentById("trumpet");
    const score = everyNoteOf(trumpet, [67, 60, 64, 62])!;
    expect(written(score)).toEqual(["C4", "D4", "E4", "G4", "E4", "D4", "C4"]);
    expect(timeline(score).totalQuarters % 4).toBe(0);
    expect(everyNoteOf(trumpet, [60])).toBeNull();
    expect(written(everyNoteOf(instrumentById("tuba"), [46, 34, 39])!)).toEqual([
      "B♭1",
      "E♭2",
      "B♭2",
      "E♭2",
      "B♭1",
    ]);
  });

  it("of a group is what all of it know, in concert pitch, whatever the octave", () => {
    const flute = { instrument: instrumentById("flute"), known: new Set([70, 72, 74, 75]) };
    // Trumpet C D F, sounding B♭ C E♭.
    const trumpet = { instrument: instrumentById("trumpet"), known: new Set([60, 62, 65]) };
    const snare = { instrument: instrumentById("snare"), known: new Set<number>() };
    expect(written(everyNoteTogether([flute, trumpet, snare])!)).toEqual(["B♭3", "C4", "E♭4", "C4", "B♭3"]);
    expect(everyNoteTogether([flute, { ...trumpet, known: new Set([61]) }])).toBeNull();
    expect(everyNoteTogether([snare])).toBeNull();
  });
});
