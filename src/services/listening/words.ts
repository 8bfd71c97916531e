import type { z } from "zod";
import { OwnWords } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, ServiceError } from "../actor";
import { audit } from "../audit";
import type { SaveWords } from "./schema";

/** More than there are kinds of errors times instruments nobody needs. */
const MOST_WORDS = 500;

/** A band's own words by the sentence they stand in place of. */
export async function ownWordsOf(bandId: string): Promise<Record<string, string>> {
  const rows = await OwnWords.findAll({ where: { bandId } });
  return Object.fromEntries(rows.map(({ place, text }) => [place, text]));
}

export function ownWords(actor: Actor): Promise<Record<string, string>> {
  return ownWordsOf(director(actor).bandId);
}

/** Keeps own words; empty ones give the place back to the bench. */
export async function saveWords(actor: Actor, { place, text }: z.output<typeof SaveWords>): Promise<void> {
  const who = director(actor);
  const { bandId } = who;
  await database().transaction(async (transaction) => {
    if (text === "") await OwnWords.destroy({ where: { bandId, place }, transaction });
    else {
      if ((await OwnWords.count({ where: { bandId }, transaction })) >= MOST_WORDS)
        throw new ServiceError("quota", `A band keeps at most ${MOST_WORDS} sentences of its own.`);
      await OwnWords.upsert({ bandId, place, text }, { transaction });
    }
    await audit(who, "save-words", bandId, transaction);
  });
}
