import { instrumentById } from "../../core/music";
import { rubricFor } from "../../core/progress";
import { scorePlace } from "../../core/ready";
import { derivePart, withTempo } from "../../core/score";
import { Assignment, Band, LineRevision, liveLines, seatsOfAssignment } from "../../data";
import { type Actor, director, found } from "../actor";
import { dayLabel } from "../calendar";
import { givenNow, keptWithTake, scoreOfTake, termsOf } from "../giving";
import { engravePart } from "../parts";
import { mayHear, settingsOf } from "../settings";
import { lateDaysOf } from "./marking";
import type { LiveChoice, LiveTest } from "./wire";

/** What was due so long ago may still be heard in class, days. */
const DUE_SINCE_DAYS = 30;

/** What can be heard in class, one player after the other: playing tests first, then what is due next. */
export async function liveChoices(actor: Actor): Promise<LiveChoice[]> {
  const who = director(actor);
  await mayHear(who);
  const rows = await liveLines(who.bandId, DUE_SINCE_DAYS);
  return rows.map(({ dueDate, ...row }) => ({ ...row, dueLabel: dayLabel(dueDate) }));
}

/**
 * Everything that hearing a line in class needs, at once: who plays, each one's part to judge by and to look at, and how it is marked.
 * Nothing more is asked of the server until there is something to keep.
 */
export async function liveTest(actor: Actor, assignmentId: string): Promise<LiveTest> {
  const who = director(actor);
  await mayHear(who);
  const { bandId } = who;
  const assignment = found(await Assignment.findOne({ where: { id: assignmentId, bandId } }), "line");
  const [revision, band, seats] = await Promise.all([
    LineRevision.findByPk(assignment.revisionId),
    Band.findByPk(bandId),
    seatsOfAssignment(assignmentId),
  ]);
  const { judging, late, rubrics, corrected } = settingsOf(found(band, "band"));
  const { score } = found(revision, "line");
  const parts: LiveTest["parts"] = {};
  const players: LiveTest["players"] = [];
  const inOrder = seats.sort(
    (a, b) =>
      scorePlace(a.instrumentId) - scorePlace(b.instrumentId) || a.playerName.localeCompare(b.playerName),
  );
  for (const {
    taskId,
    playerName,
    instrumentId,
    stage,
    partId,
    octaveShift: octave,
    state,
    firstAt,
  } of inOrder) {
    const instrument = instrumentById(instrumentId);
    const kept = keptWithTake(await givenNow(taskId, assignment));
    const { firstBar, lastBar, asked } = kept;
    // Who is asked for some bars, or at another tempo, has a part of the own.
    const part = [instrumentId, stage, partId, octave, firstBar, lastBar, asked.goalBpm].join(" ");
    if (!parts[part]) {
      const whole = derivePart(score, instrument, stage, { partId, octave }).score;
      const own = scoreOfTake(whole, kept);
      parts[part] = {
        score: own,
        svg: score.catalogued ? "" : await engravePart(withTempo(own, null), "medium"),
        inTuneCents: judging[stage].inTuneCents,
        options: {
          bpm: asked.goalBpm,
          instrumentId,
          pitchToleranceCents: band!.pitchToleranceCents,
          timingToleranceMs: judging[stage].inTimeMs,
          a4Hz: Number(band!.a4Hz),
          corrected,
        },
      };
    }
    players.push({
      taskId,
      name: playerName,
      instrument: instrument.name,
      part,
      state,
      lateDays: lateDaysOf(assignment.dueDate, band!.timeZone, firstAt),
    });
  }
  return {
    assignmentId,
    lineTitle: score.title,
    goalBpm: assignment.goalBpm,
    catalogued: score.catalogued ?? false,
    owner: who.userId,
    rubric: rubricFor(rubrics, termsOf(assignment)),
    late,
    players,
    parts,
  };
}
