import type { Metre } from "../../core/rhythm";
import { type Score, timeline } from "../../core/score";
import { RhythmStaff, type TimeBead } from "../../ui/RhythmStaff";
import type { TurnAnswer } from "./use-turn";

/** What came of a turn: the time string, attack by attack, and the player's own beat against the click. */
export function TurnResult({
  answer: { assessment, against, compensatedMs },
  score,
  metre,
  bpm,
}: {
  answer: TurnAnswer;
  score: Score;
  metre: Metre;
  bpm: number;
}) {
  const { status, tempoBpm } = assessment.take;
  if (status !== "assessed")
    return (
      <p className="text-felt" data-testid="turn">
        {status === "too-quiet"
          ? "Nothing was loud enough to hear. Clap nearer to the microphone."
          : "That was not this bar. Count it aloud once, then clap again."}
      </p>
    );
  const passes = Math.max(1, ...timeline(score).notes.map((note) => note.pass));
  const wrong = assessment.notes.filter(
    (note) => note.verdict !== "ok" || note.timing === "early" || note.timing === "late",
  );
  const events = score.parts[0].measures[0]!.events;
  return (
    <div className="flex flex-col gap-2" data-testid="turn" aria-live="polite">
      <p className={wrong.length === 0 && assessment.extras.length === 0 ? "font-bold text-done" : ""}>
        {wrong.length === 0 && assessment.extras.length === 0
          ? `All ${assessment.notes.length} in time.`
          : [
              `${assessment.notes.length - wrong.length} of ${assessment.notes.length} in time`,
              assessment.extras.length > 0 ? `${assessment.extras.length} too many` : "",
            ]
              .filter(Boolean)
              .join(", ")}
      </p>
      <div className="flex flex-wrap gap-3 overflow-x-auto">
        {Array.from({ length: passes }, (_, pass) => (
          <RhythmStaff
            key={pass}
            events={events}
            metre={metre}
            withMetre={pass === 0}
            label={`Time ${pass + 1} through the bar`}
            beads={beadsOf(answerNotes(assessment.notes, score, pass + 1))}
          />
        ))}
      </div>
      <p className="text-sm text-quiet" data-testid="against" data-behind-ms={against?.behindMs}>
        {tempoBpm !== null && `Your own beat: ${Math.round(tempoBpm)} bpm, the click ${bpm}. `}
        {against && beatSentence(against.behindMs, against.driftMs)}{" "}
        {compensatedMs === null
          ? "The delay of this device is not measured yet."
          : `${compensatedMs} ms of device delay taken off.`}
      </p>
    </div>
  );
}

/** Under so many ms nobody hears a difference. */
const TOGETHER_MS = 25;

function beatSentence(behindMs: number, driftMs: number): string {
  const where =
    Math.abs(behindMs) <= TOGETHER_MS
      ? "Together with the click."
      : `${Math.abs(behindMs)} ms ${behindMs > 0 ? "behind" : "ahead of"} the click.`;
  const drift =
    Math.abs(driftMs) <= 2 * TOGETHER_MS
      ? ""
      : ` It ${driftMs > 0 ? "falls back" : "runs ahead"} by ${Math.abs(driftMs)} ms.`;
  return where + drift;
}

function answerNotes(notes: TurnAnswer["assessment"]["notes"], score: Score, pass: number) {
  const line = timeline(score).notes;
  return notes.filter((note) => line[note.index]!.pass === pass);
}

function beadsOf(notes: TurnAnswer["assessment"]["notes"]): Map<string, TimeBead> {
  return new Map(
    notes.map(({ eventId, verdict, timing, timingMs }) => [
      eventId,
      {
        kind: verdict === "missed" ? "missed" : timing === "early" || timing === "late" ? timing : "ok",
        ms: timingMs ?? 0,
      },
    ]),
  );
}
