import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { INSTRUMENTS, parsePitch } from "../../core/music";
import type { Part, PartOverride, Score } from "../../core/score";
import { Line, LineRevision, newestRevisionOf } from "../../data";
import { database } from "../../server/database";
import { type Actor, type Director, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { bookId, contentHash, draftOf, provedOutline } from "../lines";
import type { LineAbout, SavePart, SetOverride } from "./schema";

/** The newest form of a line. @throws ServiceError when the band has no such line */
export async function newestRevision(bandId: string, lineId: string): Promise<LineRevision> {
  return found(await newestRevisionOf(bandId, lineId), "line");
}

/**
 * Stores a changed line as its next revision: what was assigned and recorded before keeps pointing at the notes it was
 * made for. A score that did not change makes no revision.
 */
async function revise(
  who: Director,
  newest: LineRevision,
  score: Score,
  action: string,
): Promise<{ revisionId: string }> {
  const hash = contentHash(score);
  if (hash === newest.contentHash) return { revisionId: newest.id };
  const outline = await provedOutline(score, "This change was not saved");
  const id = uuid();
  await database().transaction(async (transaction) => {
    await LineRevision.create(
      {
        id,
        bandId: who.bandId,
        lineId: newest.lineId,
        number: newest.number + 1,
        contentHash: hash,
        score,
        sourceName: newest.sourceName,
        notUnderstood: newest.notUnderstood,
        outline,
      },
      { transaction },
    );
    await audit(who, action, newest.lineId, transaction);
  });
  return { revisionId: id };
}

/** @throws ServiceError when somebody has saved the line since it was opened */
function onlyWhenUnchanged(newest: LineRevision, basedOn: string): void {
  if (newest.id !== basedOn)
    throw new ServiceError(
      "conflict",
      "This line was changed by somebody else in the meantime. Open it again; what you typed stays on this device.",
    );
}

/** Saves the notes of one part of a line, or adds a part to it: second, bass line, easy, or one instrument's own. */
export async function savePart(
  actor: Actor,
  lineId: string,
  partId: string,
  about: z.output<typeof SavePart>,
  bytes: Uint8Array,
): Promise<{ revisionId: string; partId: string }> {
  const who = director(actor);
  const newest = await newestRevision(who.bandId, lineId);
  onlyWhenUnchanged(newest, about.basedOn);
  // Checked here; the whole line is proved when it is stored.
  const [typed] = (await draftOf(bytes, "This part was not saved")).score.parts;
  const { parts } = newest.score;
  const place = parts.findIndex((part) => part.id === partId);
  if (place < 0 && partId !== "new") throw new ServiceError("not-found", "This line has no such part.");
  if (place < 0 && !about.name)
    throw new ServiceError("bad-input", "Give the new part a name.", { name: "For example: Second." });
  const id = place < 0 ? freeId(parts) : partId;
  const { forInstruments: _old, ...plain } = place < 0 ? typed : parts[place]!;
  const instruments = about.instruments ?? parts[place]?.forInstruments ?? [];
  const part: Part = {
    ...plain,
    id,
    name: about.name ?? plain.name,
    clef: typed.clef,
    soundsBy: typed.soundsBy,
    measures: typed.measures,
    ...(instruments.length > 0 ? { forInstruments: instruments } : {}),
  };
  // An instrument has one part of its own.
  const others = parts.map((each) => withoutInstruments(each, instruments));
  const { catalogued: _catalogued, ...rest } = newest.score;
  const saved = place < 0 ? [...others, part] : others.with(place, part);
  const revised = await revise(who, newest, { ...rest, parts: saved as Score["parts"] }, "save-part");
  return { ...revised, partId: id };
}

function freeId(parts: readonly Part[]): string {
  let number = parts.length + 1;
  while (parts.some((part) => part.id === `P${number}`)) number++;
  return `P${number}`;
}

function withoutInstruments(part: Part, taken: readonly string[]): Part {
  const { forInstruments, ...rest } = part;
  const left = forInstruments?.filter((id) => !taken.includes(id)) ?? [];
  return left.length > 0 ? { ...rest, forInstruments: left } : rest;
}

/** Takes a part away from a line; the first one stays. Earlier revisions keep it. */
export async function removePart(
  actor: Actor,
  lineId: string,
  partId: string,
): Promise<{ revisionId: string }> {
  const who = director(actor);
  const newest = await newestRevision(who.bandId, lineId);
  const [first, ...others] = newest.score.parts;
  if (first.id === partId)
    throw new ServiceError("bad-input", "The first part is the line itself and stays.");
  if (!others.some((part) => part.id === partId))
    throw new ServiceError("not-found", "This line has no such part.");
  const parts: Score["parts"] = [first, ...others.filter((part) => part.id !== partId)];
  return revise(who, newest, { ...newest.score, parts }, "remove-part");
}

/** Another octave or other notes for one instrument, made on purpose; an empty override goes back to what is derived. */
export async function setOverride(
  actor: Actor,
  lineId: string,
  instrumentId: string,
  input: z.output<typeof SetOverride>,
): Promise<{ revisionId: string }> {
  const who = director(actor);
  if (!INSTRUMENTS.some((instrument) => instrument.id === instrumentId && instrument.ranges))
    throw new ServiceError("not-found", "There is no such pitched instrument.");
  const newest = await newestRevision(who.bandId, lineId);
  const known = new Set(
    newest.score.parts.flatMap((part) =>
      part.measures.flatMap((each) => each.events.map((event) => event.id)),
    ),
  );
  const before = newest.score.overrides?.[instrumentId] ?? {};
  const substitutes = { ...before.substitutes };
  for (const [eventId, name] of Object.entries(input.substitutes ?? {})) {
    if (!known.has(eventId)) throw new ServiceError("not-found", "This note does not exist in the line.");
    if (name === null) delete substitutes[eventId];
    else substitutes[eventId] = parsePitch(name);
  }
  const octave = input.octave === undefined ? before.octave : (input.octave ?? undefined);
  const override: PartOverride = {
    ...(octave === undefined ? {} : { octave }),
    ...(Object.keys(substitutes).length > 0 ? { substitutes } : {}),
  };
  const { overrides: _all, ...score } = newest.score;
  const { [instrumentId]: _own, ...others } = newest.score.overrides ?? {};
  const overrides = Object.keys(override).length > 0 ? { ...others, [instrumentId]: override } : others;
  const revised = Object.keys(overrides).length > 0 ? { ...score, overrides } : score;
  return revise(who, newest, revised, "set-override");
}

/** Number, page, title, book, and the director's own place and reason; the notes stay as they are. */
export async function describeLine(
  actor: Actor,
  lineId: string,
  input: z.output<typeof LineAbout>,
): Promise<void> {
  const who = director(actor);
  const line = found(await Line.findOne({ where: { id: lineId, bandId: who.bandId } }), "line");
  await database().transaction(async (transaction) => {
    await line.update(
      {
        title: input.title,
        number: input.number,
        page: input.page,
        introduces: input.introduces,
        teachingPlace: input.teachingPlace,
        teachingReason: input.teachingReason,
        bookId: await bookId(who.bandId, input.book, transaction),
      },
      { transaction },
    );
    await audit(who, "describe-line", lineId, transaction);
  });
}
