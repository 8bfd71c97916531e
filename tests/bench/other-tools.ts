import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { PitchDetector } from "pitchy";
import { writeWav } from "../../src/core/audio";
import { type SoundingNote, timeline } from "../../src/core/score";
import { f1 } from "./hearing-tally";
import type { Outcome } from "./outcome";

/** Whether a tool heard the written pitch where a note was played, or was due. */
type Hears = (note: SoundingNote, fromSec: number, toSec: number) => boolean;
interface Tool {
  hears: Hears;
  ms: number;
}

/** Errors found by a general tool that is told where every note lies: more than it could know, so these are upper bounds. */
export class ToolTally {
  private counts = { hits: 0, falseAlarms: 0, overlooked: 0, right: 0, ms: 0, soundSec: 0 };

  add({ take, part, delaySec, soundSec }: Outcome, { hears, ms }: Tool): void {
    const { counts } = this;
    counts.ms += ms;
    counts.soundSec += soundSec;
    const lead = take.played[0] ? take.played[0].atSec : 0;
    const line = timeline(part, { bpm: take.bpm });
    for (const note of line.notes) {
      const truth = take.played.find((each) => each.index === note.index);
      const from = (truth?.atSec ?? lead + note.onsetSec) + delaySec;
      const found = !hears(note, from, from + note.durationSec);
      const error = !truth || truth.wrong !== null;
      if (error && found) counts.hits++;
      else if (error) counts.overlooked++;
      else if (found) counts.falseAlarms++;
      if (!error) counts.right++;
    }
  }

  cells(): [string, string, string] {
    const { hits, falseAlarms, overlooked, right, ms, soundSec } = this.counts;
    return [
      `F1 ${f1([hits, falseAlarms, overlooked]).toFixed(3)} of ${hits + overlooked}`,
      `${((100 * falseAlarms) / Math.max(1, right)).toFixed(2)} false alarms in 100`,
      `${((1000 * soundSec) / ms).toFixed(0)} x real time`,
    ];
  }
}

/** aubionotes (Debian): notes with onset and MIDI number; right with the written pitch within 150 ms. */
export function notesByAubio({ pcm }: Outcome): Tool {
  const folder = mkdtempSync(join(tmpdir(), "ulu-aubio-"));
  try {
    writeFileSync(join(folder, "take.wav"), writeWav(pcm));
    const start = performance.now();
    const said = execFileSync("aubionotes", ["-i", join(folder, "take.wav")], {
      encoding: "utf8",
      stdio: ["ignore", "pipe", "ignore"],
    });
    const ms = performance.now() - start;
    const notes = said
      .split("\n")
      .map((row) => row.trim().split(/\s+/).map(Number))
      .filter((row) => row.length === 3);
    return {
      ms,
      hears: (note, from) =>
        notes.some(([midi, at]) => Math.abs(at! - from) < 0.15 && Math.round(midi!) === note.midi),
    };
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** pitchy (registry): pitch every 10 ms; right when most clear frames of the note lie within 50 cents. */
export function pitchesByLibrary({ pcm }: Outcome): Tool {
  const size = 2048 * Math.max(1, Math.round(pcm.sampleRate / 44_100));
  const detector = PitchDetector.forFloat32Array(size);
  const start = performance.now();
  const frames: number[] = [];
  for (let at = 0; at + size < pcm.samples.length; at += Math.round(0.01 * pcm.sampleRate)) {
    const [hz, clarity] = detector.findPitch(pcm.samples.subarray(at, at + size), pcm.sampleRate);
    frames.push(clarity > 0.85 ? 69 + 12 * Math.log2(hz / 440) : 0);
  }
  const ms = performance.now() - start;
  return {
    ms,
    hears: (note, from, to) => {
      const clear = frames
        .slice(Math.round((from + 0.03) * 100), Math.round((to - 0.05) * 100))
        .filter((midi) => midi > 0);
      const right = clear.filter((midi) => Math.abs(midi - note.midi!) < 0.5).length;
      return clear.length >= 4 && right > 0.5 * clear.length;
    },
  };
}
