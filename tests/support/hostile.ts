import { writeMusicXml } from "../../src/core/score";
import { line } from "./music";

/** Files made to stop a server, each with what it must be told; small as files, large as work. */
type Hostile = Record<string, [bytes: () => Uint8Array<ArrayBuffer>, reason: RegExp]>;

const text = (content: string) => new TextEncoder().encode(content);
const chunk = (tag: string, body: readonly number[]) => [
  ...text(tag),
  ...[24, 16, 8, 0].map((shift) => (body.length >>> shift) & 255),
  ...body,
];

/** A MIDI file of one track with one time signature. */
function midi(
  numerator: number,
  exponent: number,
  notes: number,
  ticksEach: number,
): Uint8Array<ArrayBuffer> {
  const long = (value: number): number[] =>
    value < 128 ? [value] : [...long(value >> 7).map((byte) => byte | 128), value & 127];
  const track = [0, 0xff, 0x58, 4, numerator, exponent, 24, 8];
  for (let i = 0; i < notes; i++) track.push(0, 0x90, 60, 80, ...long(ticksEach), 0x80, 60, 0);
  track.push(0, 0xff, 0x2f, 0);
  return Uint8Array.from([...chunk("MThd", [0, 0, 0, 1, 0, 96]), ...chunk("MTrk", track)]);
}

export const hostileMidi: Hostile = {
  "the denominator 2 to the 31": [() => midi(4, 31, 1, 96), /time signature .* cannot be used/],
  "1/32 and thousands of quarters": [() => midi(1, 5, 39, 9600), /bars, more than 600/],
  "a hundred thousand notes": [() => midi(4, 2, 100_000, 1), /longer than a line of music/],
};

const plain = writeMusicXml(line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:4"));
const withSound = (tempo: string) =>
  text(
    plain
      .replace(/<direction[\s\S]*?<\/direction>/, "")
      .replace("</attributes>", `</attributes><sound tempo="${tempo}"/>`),
  );
const withTransposition = (inside: string) =>
  text(plain.replace("</attributes>", `<transpose>${inside}</transpose></attributes>`));
const score = (measures: string) =>
  text(
    `<score-partwise><part-list><score-part id="P1"><part-name>x</part-name></score-part></part-list><part id="P1">${measures}</part></score-partwise>`,
  );
const START =
  "<attributes><divisions>8</divisions><time><beats>4</beats><beat-type>4</beat-type></time></attributes>";
const note = (duration: number, id = "") =>
  `<note${id && ` id="${id}"`}><pitch><step>C</step><octave>4</octave></pitch><duration>${duration}</duration></note>`;
const bars = (count: number, inside: (bar: number) => string) =>
  Array.from(
    { length: count },
    (_, i) => `<measure number="${i + 1}">${i === 0 ? START : ""}${inside(i)}</measure>`,
  ).join("");

export const hostileMusicXml: Hostile = {
  "a tempo of 10": [() => withSound("10"), /bar 1: a tempo lies between 20 and 400/],
  "a tempo of a thousand million": [() => withSound("1000000000"), /bar 1: a tempo lies between/],
  "a transposition in words": [
    () => withTransposition("<chromatic>down a bit</chromatic>"),
    /transposition is not given in whole numbers/,
  ],
  "a transposition that no instrument has": [
    () => withTransposition("<diatonic>35</diatonic><chromatic>60</chromatic>"),
    /cannot be transposed by 35 letters and 60 semitones/,
  ],
  "40,000 notes without length, repeated 9990 times": [
    () =>
      score(
        `<measure number="1">${START}${note(32)}${note(0).repeat(40_000)}<barline location="right"><repeat direction="backward" times="9990"/></barline></measure>`,
      ),
    /bar 1 holds 40001 notes and rests, more than 128/,
  ],
  "2,000 bars": [() => score(bars(2000, () => note(32))), /2000 bars in one part, more than 600/],
  "60,000 notes of one id": [
    () =>
      score(
        bars(500, () => note(1, "n").repeat(32)) +
          `<measure number="501">${note(0, "n").repeat(40_000)}</measure>`,
      ),
    /bar 501 holds 4000\d notes/,
  ],
  "repeats that unfold without end": [
    () =>
      score(
        bars(
          500,
          () => `${note(32)}<barline location="right"><repeat direction="backward" times="12"/></barline>`,
        ),
      ),
    /more than 2000 bars to play/,
  ],
  "lengths that never add up": [
    () => score(`<measure number="1">${START.replace("8", "19997")}${note(19_001)}${note(3)}</measure>`),
    /do not add up|cannot be written/,
  ],
};
