import type { NoteVerdict } from "./types";

/** Linear between the points, level beyond them. */
type Points = readonly (readonly [heard: number, right: number])[];
type Table = Record<NoteVerdict["verdict"], Points>;

/**
 * How often a verdict was right, by the engine's own measure of how clearly it heard the note, on the bench's takes that
 * are not held out (docs/listening.md has the plot for those that are).
 */
const NOTES: Table = {
  ok: [
    [0.3, 0.7],
    [0.65, 0.88],
    [0.75, 0.975],
    [0.85, 0.99],
    [0.95, 0.998],
  ],
  "wrong-pitch": [
    [0.45, 0.6],
    [0.7, 0.85],
    [0.85, 0.97],
    [0.95, 0.98],
  ],
  missed: [
    [0.5, 0.5],
    [0.9, 0.91],
  ],
};
/** The same of strokes (`bin/bench rhythm`): they are short, so all of them are heard less clearly than notes, and nearly all are right. */
const STROKES: Table = {
  ok: [
    [0.27, 0.55],
    [0.5, 0.9],
    [0.62, 0.995],
  ],
  "wrong-pitch": NOTES["wrong-pitch"],
  missed: [
    [0.5, 0.5],
    [0.9, 0.995],
  ],
};

/**
 * Calibrated confidence of a verdict, 0 to 1.
 *
 * @param heard    how clearly the note, or its absence, was heard, 0 to 1
 * @param strokes  of a rhythm without pitches
 */
export function calibrated(verdict: NoteVerdict["verdict"], heard: number, strokes = false): number {
  const points = (strokes ? STROKES : NOTES)[verdict];
  const above = points.findIndex(([at]) => heard <= at);
  if (above === 0) return points[0]![1] * (heard / points[0]![0]);
  if (above < 0) return points.at(-1)![1];
  const [[x0, y0], [x1, y1]] = [points[above - 1]!, points[above]!];
  return Math.min(y1, y0 + ((y1 - y0) * (heard - x0)) / (x1 - x0));
}
