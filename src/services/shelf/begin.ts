import { BOOK_TITLE, bookScore, LINES, SNARE_LINE } from "../../core/book";
import { Assignment, Book, Line, type StoredOutline } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, ServiceError } from "../actor";
import { audit } from "../audit";
import { everyNoteOfGroup } from "../knowledge";
import { provedOutline, storeLine } from "../lines";

/** How far a band has come: lines on the shelf, and whether anything was ever given. */
export async function bandBegun(actor: Actor): Promise<{ lines: number; given: number }> {
  const { bandId } = director(actor);
  const [lines, given] = await Promise.all([
    Line.count({ where: { bandId, kind: "line", removedAt: null } }),
    Assignment.count({ where: { bandId } }),
  ]);
  return { lines, given };
}

/** Puts the book that comes with the bench on the shelf, in order, with its second and easy parts. */
export async function bringBook(actor: Actor): Promise<{ lines: number }> {
  const who = director(actor);
  if (await Book.findOne({ where: { bandId: who.bandId, title: BOOK_TITLE } }))
    throw new ServiceError("conflict", `${BOOK_TITLE} is on your shelf already, or in its archive.`);
  const lines = [...LINES, SNARE_LINE].map((line) => ({ line, score: bookScore(line) }));
  const outlines: StoredOutline[] = [];
  for (const { score } of lines) outlines.push(await provedOutline(score, "This line was not stored"));
  await database().transaction(async (transaction) => {
    for (const [index, { line, score }] of lines.entries()) {
      const { title, number, page, introduces } = line;
      await storeLine(who.bandId, score, {
        title,
        number,
        page,
        introduces,
        fileName: BOOK_TITLE,
        bookTitle: BOOK_TITLE,
        outline: outlines[index]!,
        transaction,
      });
    }
    await audit(who, "bring-book", who.bandId, transaction);
  });
  return { lines: lines.length };
}

/** Puts "every note you know" of a group on the shelf as a line, with what all of it know today. */
export async function bringEveryNote(actor: Actor, groupId: string): Promise<{ lineId: string }> {
  const who = director(actor);
  const { name, score } = await everyNoteOfGroup(who.bandId, groupId);
  const title = `Every note ${name} knows`;
  return storeLine(who.bandId, { ...score, title }, { title, fileName: "the bench" }, (lineId, transaction) =>
    audit(who, "bring-every-note", lineId, transaction),
  );
}
