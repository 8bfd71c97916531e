import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Sequelize } from "sequelize";
import { v7 as uuid } from "uuid";
import type { Assessment } from "../../src/core/listen";
import type { Stage } from "../../src/core/music";
import { NEIGHBOUR_TEMPO } from "../../src/core/practice";
import { countClean } from "../../src/core/progress";
import type { Score } from "../../src/core/score";
import { AssessmentBar, AssessmentRow, Media, migrate, rankTask, Take, Task } from "../../src/data";
import { closeDatabase, database } from "../../src/server/database";
import { type Actor, type Director, type PlayerActor, ServiceError } from "../../src/services/actor";
import { addPlayer, createBand, type DrawnCard, drawCards } from "../../src/services/band";
import { assign } from "../../src/services/giving";
import { storeLine } from "../../src/services/lines";
import { SaveSettings, saveSettings } from "../../src/services/settings";
import { sheetsForGroup } from "../../src/services/shelf";
import { freshDatabase } from "./application";

export interface BandInDatabase {
  db: Sequelize;
  director: Director;
  fullBandId: string;
  close(): Promise<void>;
}

let bands = 0;

/** A band of its own on an empty database, for tests that call services without a server. */
export async function bandInDatabase(): Promise<BandInDatabase> {
  const { url, drop } = await freshDatabase();
  const home = mkdtempSync(join(tmpdir(), "ulu-band-"));
  process.env.DATABASE_URL = url;
  process.env.ULU_HOME = home;
  const db = database();
  await migrate(db);
  const { director, fullBandId } = await anotherBand();
  return {
    db,
    director,
    fullBandId,
    async close() {
      await closeDatabase();
      await drop();
      rmSync(home, { recursive: true, force: true });
    },
  };
}

export async function anotherBand(): Promise<{ director: Director; fullBandId: string }> {
  const number = ++bands;
  const { bandId, userId, fullBandId } = await createBand({
    name: `Band ${number}`,
    town: "",
    classCode: `BAND-${number}`,
    timeZone: "Europe/Lisbon",
    directorName: "Dita Rector",
    email: `d${number}@band.example`,
    password: "long enough for a test",
  });
  return { director: { kind: "director", userId, bandId, name: "Dita Rector" }, fullBandId };
}

export async function addTo(
  director: Director,
  name: string,
  instruments: string[],
  stage: Stage = "small-tunes",
  groupIds: string[] = [],
): Promise<PlayerActor> {
  const { playerId } = await addPlayer(director, { name, instruments, stage, groupIds });
  return { kind: "player", playerId, bandId: director.bandId, name };
}

/** Puts a line on the shelf and gives it to a group, due far away unless told otherwise. */
/** Changes some of what the band decides, the rest as it is; checked as the page's request is. */
export async function decide(director: Director, change: object): Promise<void> {
  const checked = SaveSettings.safeParse(change);
  if (!checked.success) throw new ServiceError("bad-input", checked.error.issues[0]!.message);
  await saveSettings(director, checked.data);
}

export async function give(
  director: Director,
  score: Score,
  groupId: string,
  about: { title?: string; number?: number; goalBpm?: number; dueDate?: string } = {},
) {
  const { lineId } = await storeLine(director.bandId, score, { fileName: "test.musicxml", ...about });
  const given = await assign(director, {
    lineId,
    groupId,
    goalBpm: about.goalBpm ?? 80,
    timesPerWeek: 5,
    dueDate: about.dueDate ?? "2099-01-01",
    note: "",
    sure: ["again", "day-off"],
  });
  return { lineId, ...given };
}

export interface TakeAbout {
  state?: "waiting" | "assessed" | "unreadable";
  status?: "assessed" | "no-match" | "too-quiet" | "no-music";
  total?: number;
  clean?: number;
  wrong?: number;
  /** What the engine said, note by note; counted from it. */
  result?: Assessment;
  /** Notes wrong by measure index. */
  bars?: Record<number, number>;
}

/** The best take of a task is chosen anew after its rows were changed by hand. */
export function ranked(taskId: string): Promise<void> {
  return database().transaction((transaction) => rankTask(taskId, NEIGHBOUR_TEMPO, transaction));
}

/** A stored take of a player's task with an assessment as if it had been heard; the sound itself is not needed. */
export async function takeOf(
  player: PlayerActor,
  assignmentId: string,
  about: TakeAbout = {},
): Promise<string> {
  const task = (await Task.findOne({ where: { assignmentId, playerId: player.playerId } }))!;
  const [takeId, mediaId] = [uuid(), uuid()];
  const { bandId } = player;
  await Media.create({
    id: mediaId,
    bandId,
    storeKey: `takes/${takeId}.wav`,
    bytes: 1,
    sha256: "0".repeat(64),
    contentType: "audio/wav",
  });
  await Take.create({
    id: takeId,
    bandId,
    taskId: task.id,
    playerId: player.playerId,
    originalId: mediaId,
    canonicalId: null,
    seconds: 10,
    peaks: null,
    state: about.state ?? "assessed",
    problem: null,
    recordedAt: new Date(),
  });
  await task.update({ state: "sent" });
  if ((about.state ?? "assessed") !== "assessed") {
    await ranked(task.id);
    return takeId;
  }
  const id = uuid();
  const counted = about.result && countClean(about.result.notes);
  const status = about.status ?? "assessed";
  const take = { status, tempoBpm: 80, driftPercent: 0, tuningCents: 0, flags: [] };
  await AssessmentRow.create({
    id,
    bandId,
    takeId,
    engineVersion: "test",
    status,
    result: about.result ?? {
      engineVersion: "test",
      take,
      notes: [],
      extras: [],
      breaks: [],
      longTone: null,
    },
    notesTotal: counted?.notes ?? about.total ?? 10,
    notesClean: counted?.clean ?? about.clean ?? 10,
    notesWrong: counted?.wrong ?? about.wrong ?? 0,
    tempoBpm: 80,
  });
  for (const [measureIndex, wrong] of Object.entries(about.bars ?? {}))
    await AssessmentBar.create({
      assessmentId: id,
      bandId,
      measureIndex: Number(measureIndex),
      notes: 4,
      wrong,
      untimely: 0,
    });
  await ranked(task.id);
  return takeId;
}

/** How many statements a piece of work sends to the database. */
export async function queriesOf(db: Sequelize, work: () => Promise<unknown>): Promise<number> {
  let count = 0;
  // The typings hide what the library reads its logger from.
  const { options } = db as unknown as { options: { logging: false | (() => void) } };
  options.logging = () => count++;
  await work();
  options.logging = false;
  return count;
}

/** Every sheet of a group, made at once. */
export async function printedFor(director: Director, lineId: string, groupId: string) {
  const sheets = await sheetsForGroup(director, lineId, groupId);
  return Promise.all(sheets.map(async ({ playerName, part }) => ({ playerName, part: await part() })));
}

/** One player's new card. */
export async function newCard(actor: Actor, playerId: string): Promise<DrawnCard> {
  const [card] = await drawCards(actor, { drawId: crypto.randomUUID(), playerIds: [playerId] });
  return card!;
}

/** The sentence with which something is refused. */
export const refusal = (work: Promise<unknown>): Promise<string> =>
  work.then(
    () => "no refusal",
    (error: Error) => error.message,
  );
