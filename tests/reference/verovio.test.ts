import { VerovioToolkit } from "verovio/esm";
import createVerovioModule from "verovio/wasm";
import { beforeAll, describe, expect, it } from "vitest";
import { engraveShorthand, LINES } from "../../src/core/book";
import { INSTRUMENTS, type Interval, type Pitch, pitchId } from "../../src/core/music";
import { concertPart, derivePart, timeline, writeMidi, writeMusicXml } from "../../src/core/score";

// Verovio (LGPL-3.0, from the registry) transposes and unfolds on its own: an independent second opinion.
let verovio: VerovioToolkit;
beforeAll(async () => {
  verovio = new VerovioToolkit(await createVerovioModule());
});

/** Verovio's name of an interval: quality and number by its own convention ("M2", "-M9", "P5"). */
function intervalName({ letters, semitones }: Interval): string {
  const [size, distance] = [Math.abs(letters), Math.abs(semitones)];
  const natural = [0, 2, 4, 5, 7, 9, 11][size % 7]! + 12 * Math.floor(size / 7);
  const perfect = [0, 3, 4].includes(size % 7);
  const quality = distance === natural ? (perfect ? "P" : "M") : "m";
  return `${letters < 0 ? "-" : ""}${quality}${size + 1}`;
}

function meiPitches(mei: string): string[] {
  return [...mei.matchAll(/<note\b[^>]*?>(?:\s*<accid\b[^>]*>)?/g)].map(([tag]) => {
    const value = (name: string) => new RegExp(`\\b${name}="([^"]+)"`).exec(tag)?.[1];
    const alter =
      { s: "#", f: "b", n: "", x: "##", ss: "##", ff: "bb" }[value("accid.ges") ?? value("accid") ?? "n"] ??
      "";
    return `${value("pname")!.toUpperCase()}${alter}${value("oct")}`;
  });
}

const pitches = (part: { parts: [{ measures: { events: { pitch?: Pitch }[] }[] }, ...unknown[]] }) =>
  part.parts[0].measures.flatMap((measure) =>
    measure.events.flatMap((event) => (event.pitch ? [pitchId(event.pitch)] : [])),
  );

describe("transposition against Verovio's own", () => {
  it.each(
    INSTRUMENTS.filter((instrument) => instrument.ranges && !instrument.drums),
  )("$name", (instrument) => {
    const concert = concertPart(engraveShorthand(LINES.find((each) => each.title === "Tide Against Wind")!));
    const ours = derivePart(concert, instrument, "widening");
    const shift = {
      letters: 7 * ours.octaveShift - instrument.soundsBy.letters,
      semitones: 12 * ours.octaveShift - instrument.soundsBy.semitones,
    };
    verovio.setOptions({
      inputFrom: "musicxml",
      transpose: shift.letters === 0 ? "" : intervalName(shift),
      pageHeight: 60000,
    });
    expect(verovio.loadData(writeMusicXml(concert))).toBeTruthy();
    expect(meiPitches(verovio.getMEI())).toEqual(pitches(ours.score));
    verovio.setOptions({ transpose: "" });
  });
});

describe("play-out order and attacks against Verovio's timemap", () => {
  it.each(LINES)("$title", (book) => {
    const score = engraveShorthand(book);
    verovio.setOptions({ inputFrom: "musicxml", transpose: "", pageHeight: 60000 });
    verovio.loadData(writeMusicXml(score));
    const theirs = verovio
      .renderToTimemap()
      .flatMap((entry) =>
        (entry.on ?? []).map((id) => [id.replace(/-rend\d+$/, ""), Math.round(entry.tstamp)] as const),
      );
    const tied = new Set(
      score.parts[0].measures.flatMap((measure) =>
        measure.events.filter((event) => event.tieStop).map((event) => event.id),
      ),
    );
    const ours = timeline(score).notes.map(
      (note) => [note.eventId, Math.round(note.onsetSec * 1000)] as const,
    );
    const attacks = theirs.filter(([id]) => !tied.has(id));
    expect(attacks.map(([id]) => id)).toEqual(ours.map(([id]) => id));
    attacks.forEach(([, ms], i) => {
      expect(Math.abs(ms - ours[i]![1])).toBeLessThanOrEqual(2);
    });
  });
});

/** Attacks of a standard MIDI file: quarter note and key, in order; a reader of its own, for files of either engraver. */
function midiAttacks(bytes: Uint8Array): [quarter: number, key: number][] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const ticks = view.getUint16(12);
  const attacks: [number, number][] = [];
  for (let start = 14; start < bytes.length; start += 8 + view.getUint32(start + 4)) {
    const end = start + 8 + view.getUint32(start + 4);
    let [at, tick, status] = [start + 8, 0, 0];
    const variable = () => {
      let value = 0;
      for (;;) {
        const byte = bytes[at++]!;
        value = value * 128 + (byte & 127);
        if (byte < 128) return value;
      }
    };
    while (at < end) {
      tick += variable();
      if (bytes[at]! & 128) status = bytes[at++]!;
      if (status === 0xff) {
        at++;
        at += variable();
        continue;
      }
      const [key, velocity] = [bytes[at]!, bytes[at + 1]!];
      if (status >> 4 === 9 && velocity > 0) attacks.push([tick / ticks, key]);
      at += status >> 4 === 12 || status >> 4 === 13 ? 1 : 2;
    }
  }
  return attacks.sort((a, b) => a[0] - b[0]);
}

describe("MIDI against Verovio's own", () => {
  it.each(
    LINES,
  )("$title: every attack at its time and sounding pitch, for a transposing part too", (book) => {
    for (const id of ["flute", "clarinet", "sax-bari", "bells"]) {
      const part = derivePart(
        engraveShorthand(book),
        INSTRUMENTS.find((instrument) => instrument.id === id)!,
        "widening",
      ).score;
      verovio.setOptions({ inputFrom: "musicxml", transpose: "", pageHeight: 60000 });
      verovio.loadData(writeMusicXml(part));
      const theirs = midiAttacks(Uint8Array.from(Buffer.from(verovio.renderToMIDI(), "base64")));
      const ours = midiAttacks(writeMidi(part));
      const plain = (attacks: [number, number][]) =>
        attacks.map(([quarter, key]) => [Math.round(quarter * 24) / 24, key]);
      expect(plain(ours)).toEqual(plain(theirs));
    }
  });
});
