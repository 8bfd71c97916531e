import { type Assessment, makeSpectrum, type Trace } from "../../core/listen";
import { midiToHz } from "../../core/music";
import type { SoundingNote } from "../../core/score";

export interface Scene {
  trace: Trace;
  assessment: Assessment;
  notes: readonly SoundingNote[];
}

export const WIDTH_A_SECOND = 110;
const SPECTRUM = 2048;
/** Rows of the picture, in pixels from the top. */
const WRITTEN = { top: 0, height: 70 };
const PITCHES = { top: 80, height: 360 };
const ONSETS = { top: 450, height: 80 };
const LEVEL = { top: 540, height: 80 };
const SIGNS = { ok: "✓", "wrong-pitch": "✕", missed: "–" };
const INK = { note: "#16324f", pitch: "#b4531a", path: "#6b7a89", curve: "#0f5a6b" };

/** Draws one take: time runs to the right, pitch upwards by semitones. */
export function drawTrace(canvas: HTMLCanvasElement, { trace, assessment, notes }: Scene): void {
  const { features, segments, alignment } = trace;
  const pen = canvas.getContext("2d")!;
  pen.clearRect(0, 0, canvas.width, canvas.height);
  const x = (sec: number) => sec * WIDTH_A_SECOND;
  const heard = [...segments.map((segment) => segment.midi!), ...notes.map((note) => note.midi ?? 60)];
  const [low, high] = [Math.min(...heard) - 4, Math.max(...heard) + 8];
  const y = (midi: number) => PITCHES.top + PITCHES.height * (1 - (midi - low) / (high - low));

  drawSpectrogram(pen, features, x, low, high);
  pen.font = "12px sans-serif";
  pen.strokeStyle = INK.pitch;
  features.midi.forEach((midi, f) => {
    if (midi < low || midi > high) return;
    pen.beginPath();
    pen.arc(x(f * features.pitchHopSec), y(midi), 0.6 + 2 * features.clarity[f]! ** 4, 0, 2 * Math.PI);
    pen.stroke();
  });
  pen.strokeStyle = INK.note;
  for (const segment of segments) {
    pen.strokeRect(x(segment.onsetSec), y(segment.midi!) - 6, x(segment.offsetSec - segment.onsetSec), 12);
    for (const seam of segment.seams) pen.fillRect(x(seam), y(segment.midi!) + 7, 1, 5);
  }
  // Every written note stands above where it was heard, or where its neighbours put it.
  const places = notePlaces(assessment, notes);
  pen.fillStyle = INK.note;
  assessment.notes.forEach((note, i) => {
    pen.fillText(`${SIGNS[note.verdict]} ${i}`, x(places[i]!), WRITTEN.top + 14);
    const written = notes[i]!.midi;
    if (written !== null) pen.fillRect(x(places[i]!), y(written), 10, 2);
    if (note.flags.length > 0) pen.fillText(note.flags.join(), x(places[i]!), WRITTEN.top + 62);
    pen.fillText(note.confidence.toFixed(2), x(places[i]!), WRITTEN.top + 46);
  });
  for (const extra of assessment.extras) pen.fillText("+", x(extra.onset), WRITTEN.top + 30);
  pen.strokeStyle = INK.path;
  pen.setLineDash([2, 3]);
  for (const match of alignment.matches) {
    const segment = segments[match.segment]!;
    pen.beginPath();
    pen.moveTo(x(segment.onsetSec), y(segment.midi!));
    pen.lineTo(x(places[match.note] ?? segment.onsetSec), WRITTEN.top + 18);
    pen.stroke();
    if (match.jump) pen.fillText("jump", x(segment.onsetSec), WRITTEN.top + 30);
  }
  pen.setLineDash([]);
  drawCurve(pen, features.flux, (g) => x(g * features.fineHopSec), 0, Math.max(...features.flux), ONSETS);
  drawCurve(pen, features.outlineDb, (g) => x(g * features.fineHopSec), -80, 0, LEVEL);
}

/** Seconds of every note: its attack, or between its neighbours' where it was missed. */
function notePlaces(assessment: Assessment, notes: readonly SoundingNote[]): number[] {
  let [lastSec, lastQuarters] = [0, 0];
  const secPerQuarter =
    notes.length > 0 ? notes.at(-1)!.onsetSec / Math.max(1, notes.at(-1)!.onsetQuarters) : 1;
  return assessment.notes.map((note, i) => {
    const sec = note.onset ?? lastSec + (notes[i]!.onsetQuarters - lastQuarters) * secPerQuarter;
    [lastSec, lastQuarters] = [sec, notes[i]!.onsetQuarters];
    return sec;
  });
}

function drawSpectrogram(
  pen: CanvasRenderingContext2D,
  { sound, durationSec }: Trace["features"],
  x: (sec: number) => number,
  low: number,
  high: number,
): void {
  const spectrumAt = makeSpectrum(sound.samples, SPECTRUM);
  const power = new Float64Array(SPECTRUM / 2);
  const rows = PITCHES.height / 3;
  for (let left = 0; left < x(durationSec); left += 2) {
    spectrumAt(Math.round((left / WIDTH_A_SECOND) * sound.sampleRate) - SPECTRUM / 2, power);
    for (let row = 0; row < rows; row++) {
      const midi = high - ((high - low) * row) / rows;
      const bin = Math.round((midiToHz(midi) * SPECTRUM) / sound.sampleRate);
      const db = 10 * Math.log10((power[bin] ?? 0) + 1e-9);
      const shade = Math.max(0, Math.min(1, (db + 20) / 60));
      if (shade === 0) continue;
      pen.fillStyle = `rgba(15, 90, 107, ${(0.55 * shade).toFixed(2)})`;
      pen.fillRect(left, PITCHES.top + 3 * row, 2, 3);
    }
  }
}

function drawCurve(
  pen: CanvasRenderingContext2D,
  values: Float32Array,
  x: (index: number) => number,
  least: number,
  most: number,
  { top, height }: { top: number; height: number },
): void {
  pen.strokeStyle = INK.curve;
  pen.beginPath();
  values.forEach((value, g) => {
    pen.lineTo(x(g), top + height * (1 - Math.max(0, Math.min(1, (value - least) / (most - least)))));
  });
  pen.stroke();
}
