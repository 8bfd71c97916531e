import { describe, expect, it } from "vitest";
import type { Assessment, NoteVerdict } from "../../src/core/listen";
import { fingeringFor, INSTRUMENTS, instrumentById, parsePitch, STAGES } from "../../src/core/music";
import { fingerMoves, judgeRound, PRACTICE_STEPS, pathOf } from "../../src/core/practice";
import { type CauseKind, proposeMarks } from "../../src/core/progress";
import { stageBrings, timeline } from "../../src/core/score";
import { fitToBudget, TEMPLATES, usualBlock } from "../../src/core/warmup";
import { SaveWords } from "../../src/services/listening/schema";
import {
  ADVICE,
  advicePlace,
  CAUSE_NAMES,
  causeText,
  checkedBy,
  clock,
  cutShortReason,
  FAMILY_CAUTIONS,
  findings,
  fitChangeSentence,
  helpfulAdvice,
  leftOutSentence,
  legReason,
  legTitle,
  meaningOf,
  movesText,
  nameList,
  outcomeSentence,
  placeName,
  REMEDIES,
  remediesFor,
  remedyPlace,
  setUpList,
  takeSentence,
} from "../../src/ui/wording";
import { line, partFor } from "../support/music";
import { spotless } from "../support/verdicts";

const { part } = partFor(
  line("Bb4:1 C5:1 D5:2 | Eb5:1/2 D5:1/2 Eb5:1 C5:2 | D5:2 C5:1 Bb4:1 | Bb4:4"),
  "clarinet",
);

const missed: Partial<NoteVerdict> = {
  verdict: "missed",
  onset: null,
  offset: null,
  playedMidi: null,
  cents: null,
  timing: null,
  timingMs: null,
  length: null,
  lengthRatio: null,
};
const sentences = (assessment: Assessment) =>
  findings(assessment, part)
    .toSorted((a, b) => a.spots[0]!.atSec - b.spots[0]!.atSec)
    .map(({ spots, sentence }) => `${spots[0]!.place}: ${sentence}`);

describe("what is said of a note", () => {
  it("nothing, when nothing went wrong", () => {
    expect(findings(spotless(part), part)).toEqual([]);
  });

  it("names a natural for a flat in the player's own key, and says what to do", () => {
    // Clarinet in concert B♭ reads C major; in concert E♭, F major: the B is flat.
    const { part: own } = partFor(line("Eb5:1 Ab4:1 Bb4:2 | Eb5:4", { fifths: -3 }), "clarinet");
    const wrong = spotless(own, {
      1: { verdict: "wrong-pitch", kind: "key-signature", playedMidi: timeline(own).notes[1]!.midi! + 1 },
    });
    const [finding] = findings(wrong, own);
    expect(finding!.sentence).toBe("B natural where the key makes it B♭.");
    expect(finding!.advice).toBe("Bar 1: the key signature makes it B♭.");
  });

  it("tells semitone, partial, octave and another note apart", () => {
    const at = (kind: NoteVerdict["kind"], by: number) =>
      sentences(
        spotless(part, {
          2: { verdict: "wrong-pitch", kind, playedMidi: timeline(part).notes[2]!.midi! + by },
        }),
      );
    expect(at("semitone", 1)).toEqual(["bar 1, beat 3: F instead of E, a semitone off."]);
    expect(at("partial", 5)).toEqual(["bar 1, beat 3: A instead of E: the same fingering, another partial."]);
    expect(at("octave", 12)).toEqual(["bar 1, beat 3: E in another octave."]);
    expect(at("other", 3)).toEqual(["bar 1, beat 3: G instead of E."]);
  });

  it("names bars that were left out by their first and last, and notes struck twice by name", () => {
    const left = spotless(part, {
      3: missed,
      4: missed,
      5: missed,
      6: missed,
      7: missed,
      8: missed,
      9: missed,
    });
    expect(findings(left, part)).toMatchObject([
      {
        sentence: "Bars 2 and 3 were left out.",
        times: 1,
        advice: "Bars 2 and 3 left out: point along the line once before you play.",
        spots: [{ place: "bar 2" }, { place: "bar 3" }],
      },
    ]);
    const { notes } = spotless(part);
    const twice = spotless(
      part,
      {},
      {
        extras: [0, 1, 7].map((index) => ({
          onset: notes[index]!.onset! + 0.2,
          midi: notes[index]!.playedMidi,
        })),
      },
    );
    expect(findings(twice, part)[0]!.sentence).toBe("C, D and E struck twice.");
  });
  it("speaks of the player's beat, of length and of slurs", () => {
    const found = spotless(part, {
      3: { timing: "early", timingMs: -92 },
      4: { timing: "late", timingMs: 81 },
      6: { length: "short", lengthRatio: 0.41 },
      7: { length: "long", lengthRatio: 1.62 },
      8: { flags: ["cracked-attack"] },
      9: { flags: ["re-tongued-slur"] },
      10: { flags: ["squeak"] },
    });
    expect(sentences(found)).toEqual([
      "bar 2, beat 1: Ahead of the player's own beat by 92 ms.",
      "bar 2, beat 1 and: Behind the player's own beat by 81 ms.",
      "bar 2, beat 3: D let go after 41 % of its length.",
      "bar 3, beat 1: E held 162 % of its length.",
      "bar 3, beat 3: The start of D cracked.",
      "bar 3, beat 4: Tongued inside the slur.",
      "bar 4, beat 1: C squeaked.",
    ]);
    expect(helpfulAdvice(findings(found, part), 9)).toContain("Bar 2: wait for the beat.");
  });

  it("puts extra notes and pauses where they happened", () => {
    const found = spotless(
      part,
      {},
      {
        extras: [{ onset: 1.2, midi: 65 }],
        breaks: [{ kind: "hesitation", atSec: 3.1, seconds: 1.26, measure: "2" }],
      },
    );
    expect(sentences(found)).toEqual([
      "at 0:01.2: A note too many, between the written ones.",
      "bar 2: A pause of 1.3 s before going on.",
    ]);
  });

  it("says an early stop once, and does not list what was never reached", () => {
    const rest = Object.fromEntries([6, 7, 8, 9, 10].map((index) => [index, missed]));
    const found = spotless(
      part,
      { 2: missed, ...rest },
      { breaks: [{ kind: "stopped-early", atSec: 5, seconds: 2, measure: "3" }] },
    );
    expect(sentences(found)).toEqual([
      "bar 1, beat 3: E was not played.",
      "bar 3: Stopped here; the rest was not played.",
    ]);
  });
});

describe("what a player is told first", () => {
  it("is what was wrong, then what was uneven, each once, three at most", () => {
    const found = findings(
      spotless(part, {
        0: { timing: "early", timingMs: -90 },
        1: { timing: "early", timingMs: -90 },
        4: { length: "short", lengthRatio: 0.3 },
        6: missed,
        8: { verdict: "wrong-pitch", kind: "semitone", playedMidi: timeline(part).notes[8]!.midi! + 1 },
      }),
      part,
    );
    expect(helpfulAdvice(found)).toEqual([
      "Bar 2: leave room for the D.",
      "Bar 3: check the D, you played E♭.",
      "Bar 1: wait for the beat.",
    ]);
    expect(found.map(({ sentence, spots: own }) => [sentence, own.length])).toEqual([
      ["D was not played.", 1],
      ["E♭ instead of D, a semitone off.", 1],
      ["Ahead of the player's own beat.", 2],
      ["E let go after 30 % of its length.", 1],
    ]);
    expect(helpfulAdvice([])).toEqual([]);
  });
});

describe("what a director is shown first", () => {
  it("is the cause with most places, told once: naturals for one flat, each beat that was missed", () => {
    const { part: own } = partFor(line("Bb4:1 A4:1 Bb4:2 | Bb4:2 A4:2 | Bb4:4", { fifths: -2 }), "flute");
    const natural = (index: number) => ({
      verdict: "wrong-pitch" as const,
      kind: "key-signature" as const,
      playedMidi: timeline(own).notes[index]!.midi! + 1,
    });
    const found = findings(
      spotless(own, { 0: natural(0), 1: { timing: "late", timingMs: 90 }, 3: natural(3), 5: natural(5) }),
      own,
    );
    expect(found.map(({ sentence, spots: places }) => [sentence, places.map(({ place }) => place)])).toEqual([
      ["B natural where the key makes it B♭.", ["bar 1, beat 1", "bar 2, beat 1", "bar 3, beat 1"]],
      ["Behind the player's own beat by 90 ms.", ["bar 1, beat 2"]],
    ]);
    expect(found[0]!.advice).toBe("Bars 1, 2 and 3: the key signature makes it B♭.");
  });
});

describe("a band's own words", () => {
  const flat = () =>
    spotless(part, {
      2: { verdict: "wrong-pitch", kind: "semitone", playedMidi: timeline(part).notes[2]!.midi! + 1 },
    });
  const said = (own: Record<string, string>, instrumentId = "clarinet") =>
    findings(flat(), part, { own, instrumentId })[0]!.advice;
  it("are said in place of the bench's, those for the instrument before those for all", () => {
    expect(said({})).toBe("Bar 1: check the E, you played F.");
    const all = { [advicePlace("semitone")]: "{where}: {heard} came out, find {note}. {nobody}" };
    expect(said(all)).toBe("Bar 1: F came out, find the E. {nobody}");
    expect(said({ ...all, [advicePlace("semitone", "clarinet")]: "Left hand." })).toBe("Left hand.");
    expect(said({ ...all, [advicePlace("semitone", "flute")]: "Left hand." })).toBe(said(all));
  });
  it("can take the place of every sentence, and every instrument has something that helps", () => {
    const kinds = Object.keys(ADVICE) as CauseKind[];
    expect(kinds.filter((kind) => !CAUSE_NAMES[kind])).toEqual([]);
    // A place is what an endpoint takes.
    const instruments = INSTRUMENTS.map(({ id }) => id);
    const places = kinds.flatMap((kind) => instruments.map((id) => advicePlace(kind, id)));
    const all = [...places, ...REMEDIES.map(({ id }) => remedyPlace(id))];
    expect(all.filter((place) => !SaveWords.safeParse({ place, text: "x" }).success)).toEqual([]);
    for (const { family } of INSTRUMENTS)
      for (const kind of ["key-signature", "short", "rushing", "hesitation"] as const)
        expect(remediesFor(kind, family).length).toBeGreaterThan(0);
    // What is made for the instrument comes first.
    expect(remediesFor("squeak", "clarinets")[0]!.id).toBe("clarinet-squeak");
    expect(remediesFor("cracked", "high brass").map(({ id }) => id)).toEqual(["brass-crack", "brass-water"]);
    expect(remediesFor("squeak", "saxes").some(({ id }) => id === "clarinet-squeak")).toBe(false);
  });
});

describe("places", () => {
  // Parts of a beat by the common numbers: 1 e & a (common practice, no published source).
  it.each([
    ["3", 1, "bar 3, beat 1"],
    ["3", 2.5, "bar 3, beat 2 and"],
    ["3", 4.25, "bar 3, beat 4 e"],
    ["3", 4.75, "bar 3, beat 4 a"],
    ["3", 1.3333, "bar 3, beat 1 and a bit"],
    ["0", 4, "pickup, beat 4"],
  ])("bar %s beat %f is %s", (measure, beat, expected) => {
    expect(placeName({ measure, beat })).toBe(expected);
  });

  it("writes the clock with tenths", () => {
    expect([clock(0), clock(7.44), clock(61.06)]).toEqual(["0:00.0", "0:07.4", "1:01.1"]);
  });
});

describe("the take in one sentence", () => {
  it.each([
    ["too-quiet", true, /almost silent.*move closer/],
    ["no-music", true, /No playing was heard/],
    ["no-match", true, /Is it the right one\? Your director will listen/],
    ["no-match", false, /may be another piece. Listen for yourself/],
  ] as const)("%s", (status, forPlayer, expected) => {
    const answer = spotless(
      part,
      {},
      { take: { status, tempoBpm: null, driftPercent: null, tuningCents: null, flags: [] } },
    );
    expect(takeSentence(answer, forPlayer, part)).toMatch(expected);
  });

  it("counts what was found and mentions another octave", () => {
    expect(takeSentence(spotless(part, { 4: missed }), true, part)).toBe("10 of 11 notes found.");
    const octave = spotless(part);
    octave.take.flags = ["octave"];
    expect(takeSentence(octave, true, part)).toBe(
      "11 of 11 notes found. All of it sounded in another octave than your part.",
    );
    octave.take.flags = ["reference-bleed"];
    expect(takeSentence(octave, false, part)).toMatch(
      /play-along can be heard as loudly as the player.*use earphones/,
    );
  });

  it("says what a busy device left out, where, and that nobody is blamed for it", () => {
    const unrecorded: Partial<NoteVerdict> = { flags: ["not-recorded"], confidence: 0.1 };
    const cut = spotless(part, { 4: unrecorded, 8: unrecorded });
    expect(leftOutSentence(cut, 1.26, false)).toBe(
      "The player's device left out 1.3 s of sound: what is missing in bars 2 and 3 is not held against the player.",
    );
    expect(leftOutSentence(cut, null, true)).toBe(
      "Your device left some sound out in bars 2 and 3. That does not count against you.",
    );
    expect(takeSentence(cut, true, part)).toBe("9 of 9 notes found.");
    // Too much of it: nobody can say how the line was played.
    const holes = spotless(part, { 3: unrecorded, 4: unrecorded, 8: unrecorded });
    expect(takeSentence(holes, true, part)).toMatch(/left out too much.*record it once more/);
    expect(outcomeSentence(judgeRound(holes))).toMatch(/Your device left too much of that out/);
    expect(leftOutSentence(holes, 4, true)).toBeNull();
    expect(leftOutSentence(holes, 4, false)).toMatch(/4\.0 s of sound: too much to count/);
    // Between two notes, or in a take that was not matched: it is said, and not to the child.
    expect(leftOutSentence(spotless(part), 0.3, false)).toMatch(/0\.3 s of sound\. No verdict hangs on it/);
    expect(leftOutSentence(null, 2, false)).not.toBeNull();
    expect(leftOutSentence(spotless(part), 0.3, true)).toBeNull();
    expect(leftOutSentence(spotless(part), 0, false)).toBeNull();
  });
});

describe("marks the bench would give", () => {
  it("4 for a spotless take, and none for what it cannot hear", () => {
    expect(proposeMarks(spotless(part))).toEqual({ notes: 4, rhythm: 4, articulation: 4 });
  });

  it("falls with each criterion apart: wrong notes leave rhythm alone", () => {
    const wrong = spotless(part, { 1: { verdict: "wrong-pitch", kind: "other" }, 5: missed });
    expect(proposeMarks(wrong)).toMatchObject({ notes: 2, rhythm: 4 });
    const uneven = spotless(part, {
      1: { timing: "late", timingMs: 90 },
      5: { length: "short", lengthRatio: 0.3 },
      6: { timing: "early", timingMs: -99 },
      7: { timing: "early", timingMs: -99 },
    });
    expect(proposeMarks(uneven)).toMatchObject({ notes: 4, rhythm: 1 });
  });

  it("takes one level of rhythm for a pause, and proposes nothing for another piece", () => {
    expect(
      proposeMarks(spotless(part, {}, { breaks: [{ kind: "restart", atSec: 2, seconds: 1, measure: "2" }] }))
        .rhythm,
    ).toBe(3);
    expect(
      proposeMarks(
        spotless(
          part,
          {},
          { take: { status: "no-match", tempoBpm: null, driftPercent: null, tuningCents: null, flags: [] } },
        ),
      ),
    ).toEqual({});
  });
});

describe("a warm-up that is cut", () => {
  it("says what a kind of player leaves out", () => {
    expect(cutShortReason({ kind: "cycle", played: 1, of: 6 })).toBe(
      "plays the first 1 of 6 steps, then the range of the stage ends.",
    );
    expect(cutShortReason({ kind: "slurs", played: 0, of: 4 })).toMatch(/^no such slur lies in the range/);
    expect(cutShortReason({ kind: "beyond", missing: 2, of: 5, end: "top" })).toBe(
      "rests on 2 of 5 steps, beyond the top of the instrument's two years.",
    );
    expect(cutShortReason({ kind: "notes", names: ["A5", "B♭5"] })).toBe(
      "rests on A5, B♭5, outside the range of the stage.",
    );
  });

  it("says what was taken away from every block that was shortened, and what that saves", () => {
    const { routine } = TEMPLATES[0]!;
    const { changes } = fitToBudget({ ...routine, budgetSec: 60 });
    const said = changes.map(fitChangeSentence);
    expect(said.length).toBeGreaterThan(3);
    for (const sentence of said)
      expect(sentence).toMatch(
        /(one key|\d+ (keys|steps|times through)|once through|only .*|5 seconds between blocks) \(saves \d+:\d\d\)$/,
      );
    const scales = usualBlock("scales", "s");
    expect(
      fitChangeSentence({ kind: "keys", block: { ...scales, keys: ["Bb"] } as never, savedSec: 61 }),
    ).toMatch(/: one key \(saves 1:01\)$/);
  });
});

describe("names in a sentence", () => {
  it("are said in full while they are few, then counted", () => {
    expect(nameList(["Ines"])).toBe("Ines");
    expect(nameList(["Ines", "Bo", "Ada", "Cy"])).toBe("Ines, Bo, Ada and Cy");
    expect(nameList(["Ines", "Bo", "Ada", "Cy", "Dee"])).toBe("Ines, Bo, Ada and 2 more");
  });
});

describe("cautions where the act happens", () => {
  // Common practice, no published source.
  it("speaks of dizziness for blocked air, of ears for loud attacks, of lips and small hands for long runs", () => {
    expect(FAMILY_CAUTIONS.tonguing).toMatch(/few counts.*dizzy/);
    expect(FAMILY_CAUTIONS.articulation).toMatch(/ears/);
    for (const family of ["scales", "chromatic-descent", "chromatic-scale", "half-step-cycle"] as const)
      expect(FAMILY_CAUTIONS[family]).toMatch(/Lips.*small hands/);
  });
});

describe("what a fingering was checked by", () => {
  it("is said in words of the room", () => {
    expect(checkedBy(["tone holes", "common practice"])).toBe(
      "checked by its open holes and by common practice",
    );
    expect(checkedBy(["register"])).toBe("checked by the note below");
    expect(checkedBy(["director"])).toBe("confirmed by you");
  });
});

describe("what a child of ten reads", () => {
  const words = (text: string) => text.split(/\s+/).filter(Boolean).length;
  /** Sentences for children: at most so many words each. */
  const LONGEST = 16;
  const tooLong = (texts: readonly string[]) =>
    texts.flatMap((text) => text.split(/(?<=[.?:])\s+/)).filter((sentence) => words(sentence) > LONGEST);
  const score = partFor(line("Bb4:1 C5:1 D5:2 | Eb5:2 D5:2 | C5:2 D5:2 | Bb4:4"), "trumpet").part;

  it("is short in every step of a line", () => {
    const path = pathOf(score, {
      steps: [...PRACTICE_STEPS],
      material: "line",
      goalBpm: 80,
      rungs: [60, 70, 80],
      records: true,
      accompanied: true,
      fingered: true,
      snags: [],
      lastTake: spotless(score, { 3: { verdict: "wrong-pitch" } }),
      order: "halves",
      tongueFirst: true,
      readFirst: false,
    });
    const said = path.flatMap((leg) =>
      leg.places.flatMap((place) => [
        legTitle(leg, place, (i) => String(i + 1), "brass"),
        legReason(leg, place),
      ]),
    );
    expect(said.length).toBeGreaterThan(20);
    expect(tooLong(said)).toEqual([]);
  });

  it("is short in every answer to a take, each cause once", () => {
    const kinds = [
      "stopped-early",
      "restart",
      "hesitation",
      "key-signature",
      "semitone",
      "partial",
      "octave",
      "other",
      "missed",
      "extra",
      "cracked",
      "squeak",
      "rushing",
      "dragging",
      "uneven",
      "early",
      "late",
      "short",
      "long",
      "breath-in-slur",
      "re-tongued-slur",
      "doubled",
      "dynamics",
      "accents",
      "not-short",
      "repeat-too-many",
      "staccato-slower",
    ] as const;
    const places = (count: number) =>
      Array.from({ length: count }, (_, i) => ({
        eventId: null,
        noteIndex: null,
        measure: String(i + 1),
        measureIndex: i,
        beat: 1,
        atSec: i,
        untilSec: i + 1,
        amount: null,
      }));
    const said = kinds.flatMap((kind) =>
      [1, 2, 7].map((count) =>
        causeText(
          {
            id: kind,
            kind,
            written: { letter: "B", alter: -1, octave: 4 },
            playedMidi: 69,
            places: places(count),
            outOf: 7,
          },
          score,
        ),
      ),
    );
    expect(new Set(said).size).toBeGreaterThan(40);
    expect(tooLong(said)).toEqual([]);
    // Five naturals for one flat are one sentence.
    expect(
      causeText(
        {
          id: "key-signature B-1 9",
          kind: "key-signature",
          written: { letter: "B", alter: -1, octave: 4 },
          playedMidi: 69,
          places: places(5),
          outOf: 5,
        },
        score,
      ),
    ).toBe("Every B♭ was played as B. The key makes it B♭: 5 times (bars 1, 2, 3 and 2 more).");
  });

  it("has a meaning for every sign and rhythm that a stage brings", () => {
    const names = STAGES.flatMap((stage) => {
      const { rhythms, signs } = stageBrings(instrumentById("trumpet"), stage);
      return [...rhythms, ...signs];
    });
    expect(names.filter((name) => meaningOf(name) === "")).toEqual([]);
    expect(tooLong(names.map(meaningOf))).toEqual([]);
  });

  it("tells hands what to do in short sentences", () => {
    const how = (name: string) => fingeringFor(instrumentById("clarinet"), parsePitch(name))!.choices[0]!;
    const said = movesText(fingerMoves(how("G3"), how("A3"))!, "holes");
    expect(said[0]).toMatch(/^Stays down: /);
    expect(said).toContain("Comes up: right ring.");
    expect(movesText(fingerMoves(how("G3"), how("D5"))!, "holes")).toEqual([
      "Add the register or octave key.",
    ]);
  });

  it("has a short list to put every instrument together by, and sounds to begin with", () => {
    for (const { id } of INSTRUMENTS) expect([id, setUpList(id).length >= 3]).toEqual([id, true]);
    expect(tooLong(INSTRUMENTS.flatMap(({ id }) => setUpList(id)))).toEqual([]);
    expect(setUpList("clarinet").join(" ")).toContain("the reed last");
    expect(setUpList("trombone").join(" ")).toContain("locked");
  });
});
