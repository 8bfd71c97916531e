import { v7 as uuid } from "uuid";
import { AuditEntry, Band, Media, soundsBefore } from "../../data";
import { database } from "../../server/database";
import { mediaStore } from "../../server/media-store";
import { settingsOf } from "../settings";

/** So many sounds of a band are erased in one round of housekeeping. */
const A_ROUND = 200;
const WEEK_MS = 7 * 86_400_000;

/**
 * Erases the sound of takes that are older than their band keeps them; verdicts, marks and words stay. Every erasing is
 * noted. The note comes after the bytes are gone: one that was interrupted is done again.
 * @returns how many sounds went
 */
export async function eraseOldSounds(now = Date.now()): Promise<number> {
  let erased = 0;
  for (const band of await Band.findAll({ attributes: ["id", "settings"] })) {
    const { retentionWeeks } = settingsOf(band);
    if (retentionWeeks === null) continue;
    for (const sound of await soundsBefore(band.id, new Date(now - retentionWeeks * WEEK_MS), A_ROUND)) {
      await mediaStore().remove(sound.storeKey);
      await database().transaction(async (transaction) => {
        await Media.update({ erasedAt: new Date(now) }, { where: { id: sound.mediaId }, transaction });
        await AuditEntry.create(
          { id: uuid(), bandId: band.id, actor: "the bench", action: "erase-sound", subjectId: sound.takeId },
          { transaction },
        );
      });
      erased++;
    }
  }
  return erased;
}
