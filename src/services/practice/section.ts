import { instrumentById } from "../../core/music";
import { commonCause, faultOf } from "../../core/practice";
import { causesOf } from "../../core/progress";
import { scoreAsked, withTempo } from "../../core/score";
import { Assignment, LineRevision, sectionResults } from "../../data";
import { type Actor, found, player } from "../actor";
import { ownTask, recordedOf } from "../giving";
import { partOf } from "../parts";
import type { SectionSays } from "./wire";

/** So many players of a section are asked at most, the newest takes first. */
const MOST_PLAYERS = 40;

/**
 * What the player's section often does with a line: for telling right from wrong by ear. Of single children nothing is told: it
 * needs takes of several, and names none.
 */
export async function sectionSays(actor: Actor, taskId: string): Promise<SectionSays | null> {
  const who = player(actor);
  const task = await ownTask(who, taskId);
  const assignment = found(await Assignment.findByPk(task.assignmentId), "task");
  const revision = found(await LineRevision.findByPk(assignment.revisionId), "line");
  if (revision.score.catalogued) return null;
  const { instrumentId, stage, partId, octaveShift: octave } = task;
  const asked = withTempo(revision.score, assignment.goalBpm);
  const part = partOf(asked, instrumentById(instrumentId), stage, { partId, octave });
  const score = scoreAsked(part.score, recordedOf(assignment));
  const results = await sectionResults(
    { ...task.get(), revisionId: revision.id, partId: partId ?? null },
    MOST_PLAYERS,
  );
  // Takes may have been of the whole line where only some bars are asked for now.
  const own = new Set(score.parts[0].measures.flatMap(({ events }) => events.map(({ id }) => id)));
  const common = commonCause(
    results.map((result) =>
      causesOf(result, part.score).flatMap((cause) => {
        const places = cause.places.filter(({ eventId }) => eventId === null || own.has(eventId));
        return places.length > 0 ? [{ ...cause, places }] : [];
      }),
    ),
  );
  const fault = common && faultOf(common.cause, score);
  return common && fault && { cause: common.cause, fault, takes: common.takes, of: common.of };
}
