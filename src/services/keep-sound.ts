import { createHash } from "node:crypto";
import type { Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import { Media } from "../data";
import { mediaStore } from "../server/media-store";
import { CONTENT_TYPES, type SoundKind, sniffSound } from "../server/sniff";
import { ServiceError } from "./actor";
import { needRoom } from "./disk";

/**
 * Puts the bytes of a recording into the media store, before any row points at them.
 * @param name  address in the store without its ending
 * @returns a function that makes the row in a transaction and gives its id
 * @throws ServiceError for a file that is no sound recording
 */
export async function keepSound(
  bandId: string,
  name: string,
  bytes: Uint8Array,
): Promise<(transaction: Transaction) => Promise<string>> {
  const kind: SoundKind | null = sniffSound(bytes);
  if (!kind)
    throw new ServiceError(
      "bad-input",
      "This file is not a sound recording. Choose WAV, FLAC, MP3, Ogg, WebM or M4A.",
    );
  return keepFile(bandId, `${name}.${kind}`, bytes, CONTENT_TYPES[kind]);
}

/** The same for a file of which is known what it is. */
export async function keepFile(
  bandId: string,
  storeKey: string,
  bytes: Uint8Array,
  contentType: string,
): Promise<(transaction: Transaction) => Promise<string>> {
  await needRoom(bytes.length);
  await mediaStore().put(storeKey, bytes);
  return async (transaction) => {
    const id = uuid();
    await Media.create(
      {
        id,
        bandId,
        storeKey,
        bytes: bytes.length,
        sha256: createHash("sha256").update(bytes).digest("hex"),
        contentType,
      },
      { transaction },
    );
    return id;
  };
}
