import { describe, expect, it } from "vitest";
import {
  acceptScore,
  type Measure,
  readMusicXml,
  readScore,
  type Score,
  timeline,
  writeMusicXml,
} from "../../src/core/score";
import { hostileMidi, hostileMusicXml } from "../support/hostile";
import { line } from "../support/music";

/** Reads and accepts, as the shelf does. */
const take = (bytes: Uint8Array) => acceptScore(readScore(bytes).score);

describe("files that would stop the bench", () => {
  it.each(Object.entries(hostileMidi))("MIDI with %s is refused in no time", (_, [bytes, reason]) => {
    const began = performance.now();
    expect(() => take(bytes())).toThrow(reason);
    expect(performance.now() - began).toBeLessThan(5000);
  });

  it.each(Object.entries(hostileMusicXml))("MusicXML with %s is refused", (_, [bytes, reason]) => {
    expect(() => take(bytes())).toThrow(reason);
  });
});

describe("files with more voices than a score has parts", () => {
  it("are refused before work is spent on them", () => {
    const voices = Array.from({ length: 60 }, (_, i) => `V:${i}\nc4|`).join("\n");
    expect(() => take(new TextEncoder().encode(`X:1\nM:4/4\nL:1/4\nK:C\n${voices}`))).toThrow(
      "there are 60 voices, more than 40",
    );
    const note = (voice: number) =>
      `<note><pitch><step>C</step><octave>4</octave></pitch><duration>4</duration><voice>${voice}</voice><type>whole</type></note><backup><duration>4</duration></backup>`;
    const notes = Array.from({ length: 60 }, (_, i) => note(i)).join("");
    const xml = `<score-partwise><part-list><score-part id="P1"><part-name>x</part-name></score-part></part-list><part id="P1"><measure number="1"><attributes><divisions>1</divisions></attributes>${notes}</measure></part></score-partwise>`;
    expect(() => take(new TextEncoder().encode(xml))).toThrow("one part has 60 voices, more than 40");
  });
});

describe("what is accepted", () => {
  const xml = (inside: string) =>
    new TextEncoder().encode(
      new TextDecoder()
        .decode(new TextEncoder().encode(writeMusicXml(line("Bb4:4 | C5:4"))))
        .replace(/<metronome[\s\S]*?<\/metronome>/, inside),
    );
  it("takes a half note at 160, which is 320 quarters a minute, and plays it at that speed", () => {
    const { score } = readMusicXml(
      xml("<metronome><beat-unit>half</beat-unit><per-minute>160</per-minute></metronome>"),
    );
    expect(() => acceptScore(score)).not.toThrow();
    expect(timeline(score).totalSec).toBeCloseTo((8 * 60) / 320, 6);
  });

  it("infers the letters of a transposition that is given in semitones only", () => {
    // MusicXML 4.0: <diatonic> may be left out. B♭ clarinet a major second, F horn a perfect fifth, tenor sax a ninth down.
    const with_ = (transpose: string) =>
      new TextEncoder().encode(
        writeMusicXml(line("C5:4")).replace(
          "</attributes>",
          `<transpose>${transpose}</transpose></attributes>`,
        ),
      );
    const soundsBy = (transpose: string) => readMusicXml(with_(transpose)).score.parts[0].soundsBy;
    expect(soundsBy("<chromatic>-2</chromatic>")).toEqual({ letters: -1, semitones: -2 });
    expect(soundsBy("<chromatic>-7</chromatic>")).toEqual({ letters: -4, semitones: -7 });
    expect(soundsBy("<chromatic>-14</chromatic>")).toEqual({ letters: -8, semitones: -14 });
    expect(soundsBy("<chromatic>-9</chromatic>")).toEqual({ letters: -5, semitones: -9 });
    expect(soundsBy("<chromatic>3</chromatic>")).toEqual({ letters: 2, semitones: 3 });
  });

  it("names the bar and the limit", () => {
    const score = line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:4");
    const changed = (change: (second: Measure) => Partial<Measure>): Score => {
      const [first, second] = score.parts[0].measures as [Measure, Measure];
      return {
        ...score,
        parts: [{ ...score.parts[0], measures: [first, { ...second, ...change(second) }] }],
      };
    };
    expect(() => acceptScore(changed(() => ({ tempo: { beatQuarters: "1", bpm: 1e9 } })))).toThrow(
      "bar 2: a tempo lies between 20 and 400 beats a minute; this one is 1000000000",
    );
    expect(() => acceptScore(changed(() => ({ repeatEnd: { times: 9990 } })))).toThrow(
      "bar 2: a repeat is played at most 12 times",
    );
    expect(() => acceptScore(changed(() => ({ time: { beats: 4, beatType: 2 ** 31 } })))).toThrow(
      "bar 2: the time signature 4/2147483648 cannot be used",
    );
    expect(() =>
      acceptScore(changed(({ events }) => ({ events: [{ ...events[0]!, duration: "0" }] }))),
    ).toThrow("bar 2 holds a note without a length");
    expect(() => acceptScore(changed(({ events }) => ({ events: [...events, ...events] })))).toThrow(
      "bar 2 has an id that was used before",
    );
    expect(() => acceptScore({ ...score, overrides: { kazoo: { octave: 1 } } })).toThrow("not known here");
  });
});
