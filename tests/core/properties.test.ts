import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  INSTRUMENTS,
  LETTERS,
  parsePitch,
  pitchToMidi,
  transposePitch,
  writtenInterval,
} from "../../src/core/music";
import {
  addFractions,
  barQuarters,
  concertPart,
  derivePart,
  durationOfShape,
  type Frame,
  layInBars,
  type Measure,
  readMusicXml,
  type Score,
  type ScoreEvent,
  sumFractions,
  type Token,
  writeMusicXml,
} from "../../src/core/score";

// Scores nobody would think of: every sign the model holds, in any combination that is well formed.
const pitch = fc.record({
  letter: fc.constantFrom(...LETTERS),
  alter: fc.integer({ min: -1, max: 1 }),
  octave: fc.integer({ min: 3, max: 5 }),
});
const shape = fc.record({
  type: fc.constantFrom("whole", "half", "quarter", "eighth", "16th") as fc.Arbitrary<ScoreEvent["type"]>,
  dots: fc.integer({ min: 0, max: 1 }),
});
const sometimes = <T>(value: fc.Arbitrary<T>) => fc.option(value, { nil: undefined, freq: 4 });
const text = fc.stringMatching(/^[A-Za-z&<>"'♭ ]{0,10}[a-z]$/).map((each) => each.trim() || "la");
const token = fc
  .record({
    kind: fc.constantFrom("note", "note", "note", "rest") as fc.Arbitrary<"note" | "rest">,
    pitch,
    shape,
    tie: fc.boolean(),
    slurStart: sometimes(fc.constantFrom(1, 2)),
    slurStop: sometimes(fc.constantFrom(1, 2)),
    articulations: sometimes(
      fc.subarray(["staccato", "accent", "tenuto", "strong-accent"] as const, { minLength: 1 }),
    ),
    dynamic: sometimes(fc.constantFrom("pp", "p", "mp", "mf", "f", "ff") as fc.Arbitrary<"p">),
    hairpinStart: sometimes(fc.constantFrom("crescendo", "diminuendo") as fc.Arbitrary<"crescendo">),
    hairpinStop: sometimes(fc.constant(true as const)),
    fermata: sometimes(fc.constant(true as const)),
    breath: sometimes(fc.constant(true as const)),
    lyric: sometimes(
      fc.oneof(
        text,
        text.map((word) => `${word}-`),
      ),
    ),
  })
  .map(({ kind, pitch, shape, tie, ...signs }): { token: Omit<Token, "id">; tie: boolean } => {
    const given = Object.fromEntries(Object.entries(signs).filter(([, value]) => value !== undefined));
    const base = { kind, ...shape, duration: durationOfShape(shape) };
    return kind === "rest"
      ? { token: base, tie: false }
      : { token: { ...base, pitch, ...given } as Omit<Token, "id">, tie };
  });
const marks = fc.record(
  {
    repeatStart: fc.constant(true as const),
    repeatEnd: fc.record({ times: fc.integer({ min: 2, max: 4 }) }),
    segno: fc.constant(true as const),
    coda: fc.constant(true as const),
    fine: fc.constant(true as const),
    toCoda: fc.constant(true as const),
    jump: fc.constantFrom("da-capo", "dal-segno") as fc.Arbitrary<"da-capo">,
    rehearsal: text,
    // Words that name a jump come back as the jump they name.
    words: text.filter((words) => !/^D[CS](?![A-Za-z])/.test(words)),
    key: fc.record({
      fifths: fc.integer({ min: -5, max: 5 }),
      mode: fc.constantFrom("major", "minor") as fc.Arbitrary<"major">,
    }),
    tempo: fc.record({
      beatQuarters: fc.constantFrom("1", "2", "3/2"),
      bpm: fc.integer({ min: 40, max: 200 }),
    }),
  },
  { requiredKeys: [] },
);
const metre = fc.constantFrom(
  { beats: 4, beatType: 4 },
  { beats: 3, beatType: 4 },
  { beats: 2, beatType: 4 },
  { beats: 6, beatType: 8 },
);
const scores = fc
  .record({
    tokens: fc.array(token, { minLength: 1, maxLength: 20 }),
    signs: fc.array(marks, { maxLength: 6 }),
    time: metre,
    title: text,
  })
  .map(({ tokens, signs, time, title }): Score => {
    const laid: Token[] = tokens.map((each, i) => ({ ...each.token, id: `n${i + 1}` }));
    // A tie leads to the same pitch.
    for (const [i, each] of tokens.entries()) {
      const next = laid[i + 1];
      if (!each.tie || !next || next.kind !== "note" || laid[i]!.kind !== "note") continue;
      next.pitch = laid[i]!.pitch!;
      laid[i]!.tieStart = true;
      next.tieStop = true;
    }
    if (!laid.some((each) => each.kind === "note"))
      laid.push({ id: "end", kind: "note", duration: "1", pitch: parsePitch("B4") });
    const frames: Frame[] = [{}, ...signs].map((sign, i) => ({
      id: `m${i + 1}`,
      number: String(i + 1),
      ...(i === 0 ? { time, key: { fifths: -2, mode: "major" as const } } : {}),
      ...sign,
    }));
    const measures = layInBars(laid, frames.slice(0, 1 + signs.length));
    const last = measures.at(-1)!;
    const full = barQuarters(time);
    if (sumFractions(last.events.map((event) => event.duration)) !== full) last.implicit = true;
    return {
      title,
      parts: [{ id: "P1", name: "First", clef: "treble", soundsBy: { letters: 0, semitones: 0 }, measures }],
    };
  });
const lengthOf = (measure: Measure) => sumFractions(measure.events.map((event) => event.duration));

describe("whatever the line", () => {
  it("MusicXML gives back what was written", () => {
    fc.assert(
      fc.property(scores, (score) => {
        const { score: again, notUnderstood } = readMusicXml(new TextEncoder().encode(writeMusicXml(score)));
        expect(notUnderstood).toEqual([]);
        const plain = (of: Score) => ({
          ...of,
          parts: of.parts.map((part) => ({
            ...part,
            measures: part.measures.map((measure) => ({
              ...measure,
              events: measure.events.map(({ wholeMeasure: _whole, ...event }) => event),
            })),
          })),
        });
        expect(plain(again)).toEqual(plain(score));
      }),
      { numRuns: 200 },
    );
  });

  it("bars are full, and no time is lost or gained in laying them", () => {
    fc.assert(
      fc.property(fc.array(token, { minLength: 1, maxLength: 30 }), metre, (tokens, time) => {
        const laid = tokens.map((each, i) => ({ ...each.token, id: `n${i + 1}` }));
        const measures = layInBars(laid, [{ id: "m1", number: "1", time }]);
        for (const measure of measures.slice(0, -1)) expect(lengthOf(measure)).toBe(barQuarters(time));
        expect(measures.map(lengthOf).reduce(addFractions)).toBe(
          sumFractions(laid.map((each) => each.duration)),
        );
        for (const event of measures.flatMap((measure) => measure.events))
          expect(durationOfShape(event)).toBe(event.duration);
      }),
      { numRuns: 200 },
    );
  });

  it("an instrument's part sounds the concert notes, octaves aside, with every bar as long as before", () => {
    const pitched = INSTRUMENTS.filter((instrument) => instrument.ranges && !instrument.drums);
    fc.assert(
      fc.property(scores, fc.constantFrom(...pitched), (score, instrument) => {
        const { score: part, octaveShift } = derivePart(score, instrument, "widening");
        const sounding = (of: Score) =>
          of.parts[0].measures.flatMap((measure) =>
            measure.events.flatMap((event) =>
              event.pitch ? [pitchToMidi(event.pitch) + of.parts[0].soundsBy.semitones] : [],
            ),
          );
        expect(sounding(part)).toEqual(sounding(score).map((midi) => midi + 12 * octaveShift));
        expect(part.parts[0].measures.map(lengthOf)).toEqual(score.parts[0].measures.map(lengthOf));
        // And back: what the part says in concert pitch is the line again.
        expect(sounding(concertPart(part))).toEqual(sounding(part));
      }),
      { numRuns: 200 },
    );
  });

  it("a pitch moved by an instrument's interval and back is the same pitch, spelling included", () => {
    fc.assert(
      fc.property(pitch, fc.constantFrom(...INSTRUMENTS), (note, instrument) => {
        expect(
          transposePitch(transposePitch(note, writtenInterval(instrument)), instrument.soundsBy),
        ).toEqual(note);
      }),
    );
  });
});
