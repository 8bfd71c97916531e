import { Op, type Transaction } from "sequelize";
import { NEIGHBOUR_TEMPO } from "../../core/practice";
import { lockTask, rankTask, Take, Task } from "../../data";
import { queueTake } from "../../server/jobs";
import type { keptWithTake } from "../giving";

/** A recording that lies in the media store and becomes a take. */
interface StoredTake extends ReturnType<typeof keptWithTake> {
  id: string;
  bandId: string;
  taskId: string;
  playerId: string;
  originalId: string;
  recordedAt: Date;
  gaps: Take["gaps"];
}

/** Makes the take, sends its task to the director and queues it to be heard; all of it in the transaction of its bytes. */
export async function storeTake(stored: StoredTake, transaction: Transaction): Promise<void> {
  const { id, bandId, playerId, taskId } = stored;
  await lockTask(taskId, transaction);
  await Take.create(
    { ...stored, canonicalId: null, seconds: 0, peaks: null, state: "waiting", problem: null },
    { transaction },
  );
  await Task.update(
    { state: "sent" },
    { where: { id: taskId, state: { [Op.ne]: "accepted" } }, transaction },
  );
  await rankTask(taskId, NEIGHBOUR_TEMPO, transaction);
  await queueTake({ id, bandId, playerId }, transaction);
}
