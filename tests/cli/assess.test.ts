import { spawnSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { recordTake, steadyHabits } from "../../demo/players";
import { synthesise } from "../../demo/synth";
import { writeWav } from "../../src/core/audio";
import type { Assessment } from "../../src/core/listen";
import { timeline, writeMusicXml } from "../../src/core/score";
import { encodeFlac } from "../../src/server/flac";
import { line, partFor } from "../support/music";

// The command as a teacher or a test bench would call it: files in, one JSON object out, built by `prepare` alone.
let folder: string;
const file = (name: string) => join(folder, name);
const ulu = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync("node", ["dist/ulu.mjs", ...args], {
    encoding: "utf8",
    env: { PATH: process.env.PATH! },
  });
  return { status, stdout, stderr };
};
function answer(...args: string[]): Assessment & { take: { analysisMs: number } } {
  const { status, stdout, stderr } = ulu("assess", ...args, "--json");
  expect([status, stderr]).toEqual([0, ""]);
  expect(stdout.trim().split("\n")).toHaveLength(1);
  return JSON.parse(stdout);
}

const ROOM = { noise: 0.003, echo: 0.2 };
const tune = line("[: Bb4:1 C5:1 D5:1 Eb5:1 | F5:2 D5:2 :] | Eb5:1 C5:1 D5:1 Bb4:1 | Bb4:4", { bpm: 92 });
const { part } = partFor(tune, "trumpet");

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), "ulu-assess-"));
  writeFileSync(file("part.musicxml"), writeMusicXml(part));
  const whole = recordTake(part, "trumpet", 92, steadyHabits, ROOM, 1).pcm;
  writeFileSync(file("take.wav"), writeWav(whole));
  writeFileSync(file("take.flac"), await encodeFlac(whole));
  const once = timeline(part, { bpm: 92, withoutRepeats: true }).notes;
  writeFileSync(
    file("once.wav"),
    writeWav(
      synthesise(
        once.map((note) => ({
          atSec: 0.5 + note.onsetSec,
          lengthSec: note.durationSec * 0.9,
          midi: note.midi,
          loudness: 0.7,
        })),
        "trumpet",
        16,
        ROOM,
        2,
      ),
    ),
  );
  writeFileSync(file("silence.wav"), writeWav({ samples: new Float32Array(44100 * 4), sampleRate: 44100 }));
  writeFileSync(file("notes.wav"), "dear diary");
  writeFileSync(file("broken.musicxml"), "<score-partwise>\n<part>\n</score-partwise>");
  writeFileSync(file("rests.musicxml"), writeMusicXml(line("r:4 | r:4")).replaceAll("\n", ""));
  const strokes = line("x:1 x:1/2 x:1/2 x:2 | x:1 r:1 x:2 | x:1 x:1 x:1 x:1", { fifths: 0, bpm: 100 });
  writeFileSync(file("strokes.musicxml"), writeMusicXml(strokes));
  writeFileSync(file("strokes.wav"), writeWav(recordTake(strokes, "snare", 100, steadyHabits, ROOM, 4).pcm));
  const held = partFor(line("F5:8", { metre: [8, 4], bpm: 60 }), "trumpet").part;
  writeFileSync(file("held.musicxml"), writeMusicXml(held));
  writeFileSync(
    file("held.wav"),
    writeWav(
      synthesise(
        [{ atSec: 0.5, lengthSec: 9, midi: timeline(held).notes[0]!.midi, loudness: 0.7 }],
        "trumpet",
        11,
        ROOM,
        2,
      ),
    ),
  );
});
afterAll(() => rmSync(folder, { recursive: true }));

describe("ulu assess", () => {
  it("answers with every field of the contract, repeats unfolded, the same for WAV and FLAC", () => {
    const result = answer("--score", file("part.musicxml"), "--audio", file("take.wav"));
    expect(Object.keys(result).sort()).toEqual([
      "breaks",
      "dynamics",
      "engineVersion",
      "extras",
      "longTone",
      "marks",
      "notes",
      "take",
      "tuning",
    ]);
    expect(result.take).toMatchObject({ status: "assessed" });
    expect(result.take.analysisMs).toBeGreaterThan(0);
    expect(result.notes).toHaveLength(17);
    expect(result.notes.map((note) => note.index)).toEqual(result.notes.map((_, i) => i));
    expect(result.notes.every((note) => note.verdict === "ok")).toBe(true);
    expect(Object.keys(result.notes[0]!)).toEqual(
      expect.arrayContaining([
        "index",
        "eventId",
        "measure",
        "beat",
        "verdict",
        "kind",
        "onset",
        "offset",
        "playedMidi",
        "cents",
        "timing",
        "timingMs",
        "length",
        "flags",
        "confidence",
      ]),
    );
    // The second time through the repeat is the same noteheads again.
    expect(result.notes[6]!.eventId).toBe(result.notes[0]!.eventId);
    const flac = answer("--score", file("part.musicxml"), "--audio", file("take.flac"));
    expect(flac.notes).toEqual(result.notes);
  });

  it("takes a skipped repeat as right only when it is told so", () => {
    const told = answer("--score", file("part.musicxml"), "--audio", file("once.wav"), "--no-repeats");
    expect(told.notes.map((note) => note.verdict)).toEqual(Array(11).fill("ok"));
    const untold = answer("--score", file("part.musicxml"), "--audio", file("once.wav"));
    expect(untold.notes.filter((note) => note.verdict === "missed")).toHaveLength(6);
  });

  it("takes the tempo it is given as where to look, and reports the player's own", () => {
    const result = answer("--score", file("part.musicxml"), "--audio", file("take.wav"), "--tempo", "120");
    expect(result.notes.every((note) => note.verdict === "ok" && note.timing === "ok")).toBe(true);
    expect(Math.abs(result.take.tempoBpm! - 92)).toBeLessThan(2);
  });

  it("judges strokes in rhythm mode and measures a held note in longtone mode", () => {
    const strokes = answer(
      "--score",
      file("strokes.musicxml"),
      "--audio",
      file("strokes.wav"),
      "--mode",
      "rhythm",
    );
    expect(strokes.notes.map((note) => [note.verdict, note.playedMidi])).toEqual(
      Array(10).fill(["ok", null]),
    );
    const held = answer("--score", file("held.musicxml"), "--audio", file("held.wav"), "--mode", "longtone");
    expect(held.longTone!.seconds).toBeCloseTo(9, 0);
  });

  it("answers for a silent take too, with exit code 0", () => {
    expect(answer("--score", file("part.musicxml"), "--audio", file("silence.wav"))).toMatchObject({
      take: { status: "too-quiet", tempoBpm: null },
      notes: [],
    });
  });

  it.each([
    ["no score", () => ["--audio", file("take.wav")], /^Both --score FILE and --audio FILE are needed\./],
    [
      "a missing file",
      () => ["--score", file("part.musicxml"), "--audio", file("none.wav")],
      /none\.wav cannot be opened \(there is no such file\)/,
    ],
    ["a folder", () => ["--score", folder, "--audio", file("take.wav")], /cannot be opened \(EISDIR\)/],
    [
      "a text file named .wav",
      () => ["--score", file("part.musicxml"), "--audio", file("notes.wav")],
      /notes\.wav: This file is not a sound recording/,
    ],
    [
      "broken MusicXML",
      () => ["--score", file("broken.musicxml"), "--audio", file("take.wav")],
      /broken\.musicxml: Line 3: this is not well-formed XML/,
    ],
    [
      "a score without notes",
      () => ["--score", file("rests.musicxml"), "--audio", file("take.wav")],
      /there are no notes in this file/,
    ],
    [
      "an odd tempo",
      () => ["--score", file("part.musicxml"), "--audio", file("take.wav"), "--tempo", "fast"],
      /^--tempo is a number from 20 to 400\./,
    ],
    [
      "an odd mode",
      () => ["--score", file("part.musicxml"), "--audio", file("take.wav"), "--mode", "opera"],
      /^--mode is melody, rhythm or longtone\./,
    ],
    ["an unknown option", () => ["--scores", "x"], /Unknown option '--scores'/],
  ])("refuses %s with one line and exit code 2", (_, args, sentence) => {
    const { status, stdout, stderr } = ulu("assess", ...args(), "--json");
    expect([status, stdout]).toEqual([2, ""]);
    expect(stderr.trim().split("\n")).toHaveLength(1);
    expect(stderr).toMatch(sentence);
    expect(stderr).not.toMatch(/ at .*\.mjs/);
  });

  it.each([
    ["says nothing when its reader has gone away", "| true", "code 0\n"],
    ["says that the disk is full", "> /dev/full", "The answer could not be written (ENOSPC).\ncode 2\n"],
  ])("%s", (_, into, said) => {
    const assess = `node dist/ulu.mjs assess --score ${file("part.musicxml")} --audio ${file("take.wav")}`;
    const { stderr } = spawnSync("sh", ["-c", `{ ${assess}; echo "code $?" >&2; } ${into}`], {
      encoding: "utf8",
    });
    expect(stderr).toBe(said);
  });

  it("refuses a recording of more than a quarter of an hour", () => {
    writeFileSync(file("long.wav"), writeWav({ samples: new Float32Array(8000 * 901), sampleRate: 8000 }));
    expect(
      ulu("assess", "--score", file("part.musicxml"), "--audio", file("long.wav"), "--json"),
    ).toMatchObject({ status: 2, stderr: expect.stringContaining("longer than 15 minutes") });
  });
});

describe("ulu", () => {
  it("says what it can do, and refuses what it cannot", () => {
    expect(ulu().stdout).toContain("ulu assess --score FILE --audio FILE");
    expect(ulu("frobnicate")).toMatchObject({
      status: 2,
      stderr: 'There is no command "frobnicate"; say ulu help.\n',
    });
  });
});
