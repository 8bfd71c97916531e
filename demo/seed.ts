import { createHash } from "node:crypto";
import { existsSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { v7 as uuid } from "uuid";
import { writeWav } from "../src/core/audio";
import { BOOK_TITLE, type BookLine, bookScore, engraveShorthand, LINES, SNARE_LINE } from "../src/core/book";
import { addDays, whyOff } from "../src/core/calendar";
import { instrumentById } from "../src/core/music";
import { PLAIN_TERMS, type Terms } from "../src/core/practice";
import { rubricFor } from "../src/core/progress";
import { seededRandom } from "../src/core/rhythm";
import { derivePart, type Score } from "../src/core/score";
import { nameKey } from "../src/core/text";
import {
  Assignment,
  Band,
  Group,
  GroupMember,
  LineRevision,
  migrate,
  Player,
  PlayerInstrument,
  Task,
} from "../src/data";
import { closeDatabase, database } from "../src/server/database";
import { hashSecret } from "../src/server/hashing";
import { drawWords, inviteDirector } from "../src/services/accounts";
import type { Director } from "../src/services/actor";
import { addPlayer, createBand, editPlayers } from "../src/services/band";
import { today } from "../src/services/calendar";
import { assign } from "../src/services/giving";
import { teachLine } from "../src/services/knowledge";
import { storeLine } from "../src/services/lines";
import { assessStoredTake, closeAssessing, reviewTake } from "../src/services/listening";
import { beginUpload, CHUNK_BYTES, completeUpload, putChunk } from "../src/services/practice";
import { type Decided, saveSettings } from "../src/services/settings";
import {
  ASSIGNMENTS,
  DEMO,
  type DemoPlayer,
  GROUPS,
  LEAVER,
  LESSONS,
  NEWCOMER,
  PLAYERS,
  RUBRICS,
  SWAP,
  WEEKS_BEHIND,
} from "./band";
import { holdALesson } from "./lesson";
import { planTheTerm } from "./planning";
import { type Habits, recordTake, steadyHabits } from "./players";
import { practise } from "./practising";
import { prepareWarmUpsAndCounting } from "./preparation";
import { furnishShelf } from "./shelf";

const ALL_LINES: BookLine[] = [...LINES, SNARE_LINE];
/** "The flat that stays": half of two sections play its A♭ natural. */
const TRAP_LINE = 26;
/** What somebody plays instead. */
const ANOTHER_LINE = LINES.find((line) => line.number === 20)!;
const signInsFile = join(process.env.ULU_HOME ?? "var", "demo-sign-ins.txt");

/** Fills an empty database with the demo band; a finished one is left alone, a half-filled one is begun again. */
async function main() {
  const db = database();
  const band = await Band.findOne({ where: { classCode: DEMO.classCode } });
  if (band && existsSync(signInsFile)) return;
  if (band) {
    if ((await Band.count()) > 1)
      throw new Error(
        "The demo band is half made and other bands live in this database; remove the data folder and run bin/demo again.",
      );
    console.log("The demo band was left half made; making it again ...");
    await db.query("DROP DATABASE ulu");
    await db.query("CREATE DATABASE ulu");
    await db.query("USE ulu");
    await migrate(db);
  }
  console.log("Making the demo band and its takes; this takes a minute or two, once ...");
  const { bandId, userId, fullBandId } = await createBand(DEMO);
  const director: Director = { kind: "director", userId, bandId, name: DEMO.directorName };
  await decide(director, { rubrics: RUBRICS });
  const groupIds = await makeGroups(bandId, fullBandId);
  const players = await makePlayers(bandId, groupIds);
  const lineIds = new Map<number, string>();
  for (const line of ALL_LINES) {
    const { lineId } = await storeLine(bandId, bookScore(line), {
      title: line.title,
      number: line.number,
      page: line.page,
      introduces: line.introduces,
      fileName: "Quayside Steps",
      bookTitle: BOOK_TITLE,
    });
    lineIds.set(line.number, lineId);
  }
  for (const lesson of LESSONS) await teach(director, lesson, lineIds, groupIds);
  let takes = 0;
  for (const [index, wanted] of ASSIGNMENTS.entries()) {
    const line = ALL_LINES.find((each) => each.number === wanted.line)!;
    const { assignmentId } = await assign(director, {
      lineId: lineIds.get(wanted.line)!,
      groupId: groupIds.get(wanted.group)!,
      goalBpm: line.bpm,
      timesPerWeek: wanted.timesPerWeek,
      dueDate: today(DEMO.timeZone),
      note: wanted.note,
      sure: ["day-off"],
      terms: { ...PLAIN_TERMS, ...wanted.terms },
    });
    const dueDate = schoolDay(wanted.dueInDays);
    await Assignment.update({ dueDate }, { where: { id: assignmentId } });
    takes += await sendTakes(director, assignmentId, wanted, line, players, index * 1000 + 7);
  }
  await furnishShelf(director, lineIds, ALL_LINES, groupIds.get("High Brass & Percussion")!);
  await prepareWarmUpsAndCounting(director, groupIds);
  await moveOn(director, groupIds);
  await planTheTerm(director, groupIds, lineIds);
  await holdALesson(director);
  const facts = await practise(director, lineIds);
  await closeAssessing();
  writeFileSync(signInsFile, signIns());
  console.log(
    `The demo band is ready: ${PLAYERS.length} players, ${ALL_LINES.length} lines, ${takes} takes, ${facts} things practised.`,
  );
}

async function decide(director: Director, change: Partial<Decided>): Promise<void> {
  await saveSettings(director, { ...change, was: {}, sure: false });
}

/** So many days from now, or the school day before it. */
function schoolDay(days: number): string {
  const day = addDays(today(DEMO.timeZone), days);
  const off = { daysOff: [], weekendsOff: true };
  return whyOff(day, off) ? schoolDay(days - 1) : day;
}

async function teach(
  director: Director,
  { line, group, daysAgo, without }: (typeof LESSONS)[number],
  lineIds: ReadonlyMap<number, string>,
  groupIds: ReadonlyMap<string, string>,
): Promise<void> {
  const others = [...new Set(PLAYERS.flatMap((player) => player.instruments))].filter((id) => id !== without);
  await teachLine(director, lineIds.get(line)!, {
    groupId: groupIds.get(group)!,
    instruments: without ? others : [],
    on: schoolDay(-daysAgo),
  });
}

/** What happens in a band: somebody comes, somebody leaves, another director is asked, days off are known. */
async function moveOn(director: Director, groupIds: ReadonlyMap<string, string>): Promise<void> {
  const leaver = (await Player.findOne({ where: { bandId: director.bandId, name: LEAVER } }))!;
  await editPlayers(director, {
    changes: [{ playerId: leaver.id, field: "left", was: false, is: true }],
  });
  const newcomer = await addPlayer(director, {
    name: NEWCOMER.name,
    instruments: [NEWCOMER.instrument],
    stage: "making-a-sound",
    groupIds: [groupIds.get(NEWCOMER.group)!],
  });
  await Player.update({ secretHash: await hashSecret(NEWCOMER.words) }, { where: { id: newcomer.playerId } });
  const festival = schoolDay(18);
  await decide(director, {
    daysOff: [{ from: festival, to: addDays(festival, 1), name: "Lantern festival" }],
    retentionWeeks: 52,
  });
  await inviteDirector(director, { email: "pelle@lanternquay.example" }, "http://127.0.0.1:4321");
}

async function makeGroups(bandId: string, fullBandId: string): Promise<Map<string, string>> {
  const ids = new Map<string, string>([["Full Band", fullBandId]]);
  for (const [place, name] of GROUPS.entries()) {
    const id = uuid();
    await Group.create({ id, bandId, name, place });
    ids.set(name, id);
  }
  return ids;
}

async function makePlayers(bandId: string, groupIds: Map<string, string>): Promise<Map<string, DemoPlayer>> {
  const byId = new Map<string, DemoPlayer>();
  const began = addDays(today(DEMO.timeZone), -7 * WEEKS_BEHIND);
  for (const player of PLAYERS) {
    const id = uuid();
    byId.set(id, player);
    await Player.create({
      id,
      bandId,
      name: player.name,
      nameKey: nameKey(player.name),
      stage: player.stage,
      stageSince: addDays(began, 21),
      joinedOn: began,
      secretHash: await hashSecret(player.words ?? drawWords()),
    });
    const swapped = player.name === SWAP.name ? addDays(today(DEMO.timeZone), -SWAP.daysAgo) : null;
    if (swapped)
      await PlayerInstrument.create({
        playerId: id,
        bandId,
        instrumentId: SWAP.from,
        fromDate: began,
        toDate: swapped,
      });
    for (const instrumentId of player.instruments)
      await PlayerInstrument.create({
        playerId: id,
        bandId,
        instrumentId,
        fromDate: swapped ?? began,
        toDate: null,
      });
    for (const group of [player.group, "Full Band"])
      await GroupMember.create({ groupId: groupIds.get(group)!, playerId: id, bandId, fromDate: began });
  }
  return byId;
}

/** Simulated players record, send through the same door as real ones, and the director hears a share of it. */
async function sendTakes(
  director: Director,
  assignmentId: string,
  wanted: (typeof ASSIGNMENTS)[number],
  line: BookLine,
  players: Map<string, DemoPlayer>,
  seed: number,
): Promise<number> {
  const random = seededRandom(seed);
  const tasks = await Task.findAll({ where: { assignmentId }, order: [["id", "ASC"]] });
  const assignment = (await Assignment.findByPk(assignmentId))!;
  const { score } = (await LineRevision.findByPk(assignment.revisionId))!;
  let sent = 0;
  const running: Promise<void>[] = [];
  for (const [place, task] of tasks.entries()) {
    const player = players.get(task.playerId)!;
    const printed = player.words !== undefined;
    // Who can be signed in as has the trap line and the unseen one still before them.
    const before = wanted.line === TRAP_LINE || wanted.terms?.sight;
    if (printed ? before : random() > wanted.sent) continue;
    const askedAgain = printed && wanted.line === 28;
    const heard = random() < wanted.heard || askedAgain || (printed && wanted.line === 23);
    const rounds = !printed && random() < 0.12 ? 2 : 1;
    for (let round = 0; round < rounds; round++) {
      sent++;
      const habits = habitsOf(player, line, random, round);
      const { stage, partId, octaveShift: octave } = task;
      const { score: part } = derivePart(score, instrumentById(task.instrumentId), stage, { partId, octave });
      const trap = !printed && wanted.line === TRAP_LINE;
      const other = trap && place === 11;
      const played = other
        ? derivePart(engraveShorthand(ANOTHER_LINE), instrumentById(task.instrumentId), player.stage).score
        : trap && place === SKIPS_A_LINE
          ? withoutBars(part, 2, 4)
          : part;
      const { pcm } = recordTake(
        played,
        task.instrumentId,
        line.bpm,
        habits,
        { noise: 0.002 + 0.006 * random(), echo: 0.4 * random() },
        seed + place * 31 + round,
      );
      if (trap && place === 23) pcm.samples = pcm.samples.map((sample) => sample * 0.002);
      const gaps = trap && place === BUSY_DEVICE ? LEFT_OUT : [];
      for (const { fromSec, toSec } of gaps)
        pcm.samples.fill(0, fromSec * pcm.sampleRate, toSec * pcm.sampleRate);
      const takeId = await upload(task, writeWav(pcm), random, gaps);
      const assessing = assessStoredTake(takeId);
      if (round + 1 < rounds || heard) {
        await assessing;
        await hearTake(director, takeId, askedAgain || round + 1 < rounds, {
          ...PLAIN_TERMS,
          ...wanted.terms,
        });
      } else running.push(assessing);
    }
  }
  await Promise.all(running);
  await database().query(
    "UPDATE jobs SET state = 'done' WHERE subject_id IN (SELECT id FROM takes WHERE state <> 'waiting')",
  );
  return sent;
}

/** Of the players of the trap line: whose eye skips two bars, and whose device is too busy to record all of it, seconds. */
const SKIPS_A_LINE = 7;
const BUSY_DEVICE = 17;
const LEFT_OUT = [
  { fromSec: 14, toSec: 14.7 },
  { fromSec: 20.2, toSec: 20.5 },
];

function withoutBars(part: Score, from: number, to: number): Score {
  const [own] = part.parts;
  return { ...part, parts: [{ ...own, measures: own.measures.filter((_, i) => i < from || i >= to) }] };
}

async function upload(
  task: Task,
  bytes: Uint8Array,
  random: () => number,
  gaps: { fromSec: number; toSec: number }[],
): Promise<string> {
  const actor = { kind: "player" as const, playerId: task.playerId, bandId: task.bandId, name: "" };
  const id = uuid();
  const recordedAt = new Date(Date.now() - Math.floor(random() * 40) * 3600_000).toISOString();
  await beginUpload(actor, {
    id,
    taskId: task.id,
    bytes: bytes.length,
    sha256: createHash("sha256").update(bytes).digest("hex"),
    recordedAt,
    gaps,
  });
  for (let at = 0; at < bytes.length; at += CHUNK_BYTES)
    await putChunk(actor, id, at, bytes.subarray(at, at + CHUNK_BYTES));
  await completeUpload(actor, id);
  return id;
}

async function hearTake(director: Director, takeId: string, again: boolean, terms: Terms): Promise<void> {
  const comment = again
    ? "Good start. Check the key signature at the front of the line, then play bars 3 and 5 on their own."
    : "Steady and clear. Keep the air moving to the end of the long notes.";
  const score = again ? 2 : 3;
  const marks: Record<string, number> = {
    notes: score,
    rhythm: 3,
    tone: 3,
    articulation: score + 1,
    dynamics: 2,
  };
  await reviewTake(director, takeId, {
    decision: again ? "again" : "accepted",
    comment,
    marks: Object.fromEntries(
      rubricFor(RUBRICS, terms).criteria.flatMap(({ id }) => (marks[id] ? [[id, marks[id]]] : [])),
    ),
  });
}

/** A player's habits for one take: what this section tends to do, more of it the less far along the player is. */
function habitsOf(player: DemoPlayer, line: BookLine, random: () => number, round: number): Habits {
  const rough = Math.max(0, 1 - player.skill - 0.2 * round);
  const instrument = player.instruments[0]!;
  // The habit that half of these two sections share, so that the band's hot spot is there to be found.
  const missesTheFlat =
    ["clarinet", "trumpet"].includes(instrument) && line.number === TRAP_LINE && player.skill < 0.75;
  const roll = random();
  const noteCount = engraveShorthand(line)
    .parts[0].measures.flatMap((measure) => measure.events)
    .filter((event) => event.kind === "note").length;
  return {
    ...steadyHabits,
    tempo: 1 - 0.3 * rough * random() + 0.04 * random(),
    driftPercent: 10 * rough * (random() - 0.4),
    tuningCents: 30 * (random() - 0.5),
    wander: 5 + 12 * rough,
    unsteady: 0.012 + 0.022 * rough,
    rush: roll < 0.3 ? 0.5 * rough : 0,
    ignoresSignature: missesTheFlat ? 0.65 : random() < 0.25 * rough ? 0.5 : 0,
    semitoneOff: 0.04 * rough,
    wrongPartial: ["horn", "trumpet", "trombone", "euphonium", "tuba"].includes(instrument) ? 0.1 * rough : 0,
    misses: 0.05 * rough,
    doubles: 0.04 * rough,
    cracks: 0.12 * rough,
    clips: 0.08 * rough,
    ignoresSigns: player.skill < 0.7,
    ...(roll > 0.86
      ? { restartsAfter: Math.floor(noteCount * 0.4) }
      : roll > 0.76
        ? { hesitatesAt: Math.floor(noteCount * 0.5) }
        : roll > 0.72
          ? { stopsAfter: Math.floor(noteCount * 0.7) }
          : {}),
  };
}

function signIns(): string {
  const students = [...PLAYERS.filter((player) => player.words), NEWCOMER].map(
    (player) => `  Student    class code ${DEMO.classCode}, name ${player.name}, words: ${player.words}`,
  );
  return [`  Director   ${DEMO.email}, password ${DEMO.password}`, ...students, ""].join("\n");
}

main()
  .catch((error: Error) => {
    console.error(error.message);
    process.exitCode = 1;
  })
  .finally(closeDatabase);
