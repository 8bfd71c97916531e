import { VerovioToolkit } from "verovio/esm";
import createVerovioModule from "verovio/wasm";
import { beforeAll, describe, expect, it } from "vitest";
import { engraveShorthand, LINES } from "../../demo/lines";
import { INSTRUMENTS, type Interval, type Pitch, pitchId } from "../../src/core/music";
import { concertPart, derivePart, timeline, writeMusicXml } from "../../src/core/score";

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
  it.each(INSTRUMENTS.filter((instrument) => instrument.ranges))("$name", (instrument) => {
    const concert = concertPart(
      engraveShorthand(LINES.find((each) => each.title === "The Parson's Farewell")!),
    );
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
