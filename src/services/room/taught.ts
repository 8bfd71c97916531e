import type { Transaction } from "sequelize";
import { Line, newestRevisionOf, seatsOfGroup, Taught, Teaching, touchBand } from "../../data";
import { found } from "../actor";
import { lessonsOf, lineName } from "../knowledge";
import type { RoomBlock } from "./wire";

/** What each line of the lesson teaches whom: everybody who was there. */
export async function taughtBy(
  bandId: string,
  groupId: string,
  on: string,
  absent: readonly string[],
  taught: readonly string[],
  blocks: ReadonlyMap<string, RoomBlock>,
) {
  const lineIds = [...new Set(taught.flatMap((id) => blocks.get(id)?.tune?.lineId ?? []))];
  const seats = (await seatsOfGroup(groupId)).filter(({ playerId }) => !absent.includes(playerId));
  const told = new Set(
    (await teachingsOf({ bandId, groupId, date: on }, lineIds)).map(({ lineId }) => lineId),
  );
  return Promise.all(
    lineIds.map(async (lineId) => {
      const line = found(await Line.findOne({ where: { id: lineId, bandId } }), "line");
      const { score } = found(await newestRevisionOf(bandId, lineId), "line");
      const lessons = await lessonsOf(bandId, score, seats, on);
      return {
        about: { lineId, groupId, said: lineName(line), on },
        // What was told of this lesson before is no news.
        seats: lessons.filter(({ things }) => things.length > 0 || !told.has(lineId)),
      };
    }),
  );
}

interface LessonOfGroup {
  bandId: string;
  groupId: string;
  date: string;
}

/** What a lesson is said to have taught of some lines. */
function teachingsOf(
  { bandId, groupId, date }: LessonOfGroup,
  lineIds: readonly string[],
): Promise<Teaching[]> {
  return Teaching.findAll({
    where: { bandId, groupId, taughtOn: date, lineId: [...lineIds], assignmentId: null, removedAt: null },
  });
}

/** Who turned out to have been absent was not taught what a lesson that is closed anew had taught them. */
export async function takeBackFrom(
  absent: readonly string[],
  lesson: LessonOfGroup,
  lineIds: readonly string[],
  transaction: Transaction,
): Promise<void> {
  const teachingId = (await teachingsOf(lesson, lineIds)).map(({ id }) => id);
  const gone = await Taught.destroy({ where: { teachingId, playerId: [...absent] }, transaction });
  if (gone > 0) await touchBand(lesson.bandId, transaction);
}
