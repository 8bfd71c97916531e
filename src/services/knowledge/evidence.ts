import type { Transaction } from "sequelize";
import type { Assessment } from "../../core/listen";
import { instrumentById } from "../../core/music";
import { evidenceOf } from "../../core/progress";
import type { Score } from "../../core/score";
import { addUpShown, Exemption, type Take, TakeEvidence, touchBand } from "../../data";

/** Written notes that are not judged for a player on an instrument. */
export async function exemptNotes(playerId: string, instrumentId: string): Promise<Set<number>> {
  const rows = await Exemption.findAll({ where: { playerId, instrumentId } });
  return new Set(rows.map(({ writtenMidi }) => writtenMidi));
}

/** Keeps what a take shows of its player, in the transaction of its assessment; a newer hearing replaces it. */
export async function keepEvidence(
  take: Pick<Take, "id" | "playerId" | "bandId">,
  instrumentId: string,
  part: Score,
  assessment: Assessment,
  exempt: ReadonlySet<number>,
  transaction: Transaction,
): Promise<void> {
  await touchBand(take.bandId, transaction);
  await TakeEvidence.destroy({ where: { takeId: take.id }, transaction });
  await TakeEvidence.bulkCreate(
    evidenceOf(part, instrumentById(instrumentId), assessment, exempt).map(
      ({ kind, thing, right, wrong }) => ({
        takeId: take.id,
        playerId: take.playerId,
        bandId: take.bandId,
        instrumentId,
        kind,
        thing,
        rightTimes: right,
        wrongTimes: wrong,
      }),
    ),
    { transaction },
  );
  await shownAnew(take, transaction);
}

/** Adds up again what a player's takes show: a take was heard, or a director said a word on it. */
export async function shownAnew(
  { bandId, playerId }: Pick<Take, "playerId" | "bandId">,
  transaction: Transaction,
): Promise<void> {
  await touchBand(bandId, transaction);
  await addUpShown(bandId, playerId, transaction);
}
