import { MusicXML } from "@stringsync/musicxml";
import { VerovioToolkit } from "verovio/esm";
import createVerovioModule from "verovio/wasm";
import { beforeAll, describe, expect, it } from "vitest";
import {
  playOutOrder,
  readMidi,
  readMusicXml,
  timeline,
  writeMidi,
  writeMusicXml,
} from "../../src/core/score";
import { BY_HAND, CORPUS } from "../support/corpus";

// Verovio (LGPL-3.0, npm) reads, unfolds and times MusicXML on its own; @stringsync/musicxml (MIT, npm) is generated from
// the MusicXML 4.0 schema of the W3C Community Group and replaces whatever the schema does not allow.
let verovio: VerovioToolkit;
beforeAll(async () => {
  verovio = new VerovioToolkit(await createVerovioModule());
});

it("holds at least forty scores", () => {
  expect(CORPUS.length).toBeGreaterThanOrEqual(40);
  expect(new Set(CORPUS.map(({ title }) => title)).size).toBe(CORPUS.length);
});

describe("play-out order and onset times against Verovio's timemap", () => {
  it.each(CORPUS)("$title", ({ score }) => {
    verovio.setOptions({ inputFrom: "musicxml", pageHeight: 60000 });
    expect(verovio.loadData(writeMusicXml(score))).toBeTruthy();
    const tied = new Set(
      score.parts[0].measures.flatMap((measure) =>
        measure.events.filter((event) => event.tieStop).map((event) => event.id),
      ),
    );
    const theirs = verovio
      .renderToTimemap()
      .flatMap((entry) => (entry.on ?? []).map((id) => [id.replace(/-rend\d+$/, ""), entry.tstamp] as const))
      .filter(([id]) => !tied.has(id));
    const ours = timeline(score).notes;
    expect(theirs.map(([id]) => id)).toEqual(ours.map((note) => note.eventId));
    for (const [i, [, ms]] of theirs.entries())
      expect(Math.abs(ms - ours[i]!.onsetSec * 1000)).toBeLessThanOrEqual(2);
  });

  it.each(BY_HAND)("$title: $why", ({ score, order }) => {
    const played = playOutOrder(score.parts[0].measures).map(({ measureIndex }) => measureIndex + 1);
    expect(played.join(" ")).toBe(order);
  });
});

describe("MusicXML", () => {
  const everything = [...CORPUS, ...BY_HAND];
  /** One line an element, attributes by name: what remains is the content. */
  const flat = (xml: string) =>
    xml
      .trim()
      .replace(/<\?xml[^>]*>|\s+(?=<)/g, "")
      .replace(/<([\w-]+)([^>]*)><\/\1>/g, "<$1$2/>")
      .replace(/<([\w-]+)((?: [\w-]+="[^"]*")+)/g, (_all, name: string, attributes: string) =>
        [
          `<${name}`,
          ...attributes
            .trim()
            .split(/ (?=[\w-]+=)/)
            .sort(),
        ].join(" "),
      )
      .replaceAll("><", ">\n<")
      .split("\n");

  it.each(everything)("is what the schema allows, in its order: $title", ({ score }) => {
    const xml = writeMusicXml(score);
    expect(flat(MusicXML.parse(xml).serialize())).toEqual(flat(xml));
  });

  it.each(everything)("comes back the same: $title", ({ score }) => {
    const { score: again, notUnderstood } = readMusicXml(new TextEncoder().encode(writeMusicXml(score)));
    expect(notUnderstood).toEqual([]);
    const plain = (of: typeof score) =>
      of.parts[0].measures.map((measure) => ({
        ...measure,
        events: measure.events.map(({ wholeMeasure: _whole, ...event }) => event),
      }));
    expect(plain(again)).toEqual(plain(score));
  });
});

describe("MIDI in", () => {
  it.each(CORPUS)("has the notes and times that were written: $title", ({ score }) => {
    const written = timeline(score).notes;
    const unfolded = timeline(readMidi(writeMidi(score)).score).notes;
    expect(unfolded.map((note) => note.midi)).toEqual(written.map((note) => note.midi));
    for (const [i, note] of unfolded.entries())
      expect([note.onsetQuarters, note.midi]).toEqual([written[i]!.onsetQuarters, written[i]!.midi]);
  });
});
