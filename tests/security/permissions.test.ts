import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { connect } from "node:net";
import { join } from "node:path";
import { createConnection } from "mariadb";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { writeWav } from "../../src/core/audio";
import { USUAL_RUBRIC } from "../../src/core/progress";
import { OWN_WORDS, USUAL_COURSE, USUAL_PAGE } from "../../src/core/rhythm";
import { firstState } from "../../src/core/room";
import { type Score, writeMusicXml } from "../../src/core/score";
import { usualBlock } from "../../src/core/warmup";
import {
  type Application,
  makeBand,
  makePlayer,
  Person,
  sendTake,
  startApplication,
  type TestBand,
} from "../support/application";
import { line } from "../support/music";

/** Every way into the server, found on disk: a new endpoint without a row in the table fails. */
function endpointsOnDisk(folder = "src/pages", path = ""): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    if (entry.isDirectory()) return endpointsOnDisk(join(folder, entry.name), `${path}/${entry.name}`);
    const route = entry.name === "index.ts" ? path : `${path}/${entry.name.replace(/\.ts$/, "")}`;
    const source = readFileSync(join(folder, entry.name), "utf8");
    return [...source.matchAll(/export const (GET|POST|PUT|DELETE)\b/g)].map(
      (match) => `${match[1]} ${route}`,
    );
  });
}

type Who = "nobody" | "foreign director" | "other student" | "student" | "director";
interface Row {
  /** Address with real ids of the band under test. */
  path?: () => string;
  body?: () => unknown;
  /** Status each of the five gets: nobody, foreign director, other student, student, director. */
  expects: [number, number, number, number, number];
}

let application: Application;
const people = {} as Record<Who, Person>;
const ids = {
  recording: "",
  mark: "",
  view: "",
  revision: "",
  event: "",
  line: "",
  spareLine: "",
  group: "",
  assignment: "",
  task: "",
  take: "",
  pin: "",
  lastPin: "",
  player: "",
  /** The student who asks. */
  self: "",
  upload: "",
  routine: "",
  drill: "",
  course: "",
  reminder: "",
  draw: "",
  change: "",
  spareGroup: "",
  teaching: "",
  strip: "",
  cards: "",
  handout: "",
  piece: "",
  question: "",
  room: "",
  classStrip: "",
  earlierStrip: "",
  pass: "",
  settings: {},
};
/** The same kinds of ids in the other band, for bodies that name what is not theirs. */
const foreignIds: Partial<Record<keyof typeof ids, string>> = {};
const everyone: Who[] = ["nobody", "foreign director", "other student", "student", "director"];

const fresh = () => ({
  id: crypto.randomUUID(),
  taskId: ids.task,
  bytes: 10,
  sha256: "0".repeat(64),
  recordedAt: new Date().toISOString(),
});

const about = {
  title: "Named",
  number: null,
  page: null,
  introduces: "",
  book: "",
  teachingPlace: null,
  teachingReason: "",
};
const noFilter = {
  text: "",
  key: "",
  metre: "",
  without: "",
  ready: "",
  brings: "",
  crosses: false,
  like: "",
  book: "",
};
const silence = () => writeWav({ samples: new Float32Array(8000), sampleRate: 8000 });

const given = () => ({
  groupId: ids.group,
  goalBpm: 80,
  timesPerWeek: 5,
  dueDate: "2099-01-01",
  sure: ["again"],
});
const routine = () => ({
  title: "Routine",
  blocks: [{ ...usualBlock("scales", "b1"), mutedFor: [ids.group] }],
  changeoverSec: 10,
  budgetSec: 600,
  pieceBpm: 80,
});
const strip = (id: string) => ({
  id,
  groupId: ids.group,
  where: "home",
  forWhom: { kind: "player", playerId: ids.player },
  date: "2099-01-07",
  place: 1,
  kind: "line",
  refId: ids.line,
  title: "Planned",
  minutes: 3,
  firstBar: null,
  lastBar: null,
  reason: null,
});
/** A Tuesday on which the group meets, before and after the school year is saved. */
const LESSON = "2098-09-02";
const LESSON_BEFORE = "2098-08-26";
let templateId = "";
/** Whose cards are drawn anew, and taken back. */
let redrawn = "";
/** Not among the ids: who saves the calendar makes it. */
const CONCERT = crypto.randomUUID();
/** The same version twice: the second who saves is told, so the row asks once. */
const schoolYear = () => ({
  version: 0,
  terms: [{ id: crypto.randomUUID(), name: "Term", from: "2098-09-01", to: "2099-06-30" }],
  shortDays: [],
  meetings: [
    {
      id: crypto.randomUUID(),
      groupId: ids.group,
      pattern: { kind: "weekly", weekdays: [2], everyWeeks: 1 },
      from: "2098-09-01",
      to: null,
      startsAt: "10:00",
      minutes: 40,
    },
  ],
  changes: [],
  goals: [
    {
      id: CONCERT,
      kind: "test",
      name: "Test",
      date: "2099-02-02",
      groupId: ids.group,
      programme: [{ kind: "line", refId: ids.line, groupId: ids.group }],
    },
  ],
});
const drill = () => ({ title: "Page", settings: USUAL_PAGE, bpm: 80, loops: 2, system: null });

/** 404 stands for "does not exist for you": ids of another band or another player are never confirmed. */
const TABLE: Record<string, Row> = {
  // First: a draw is taken back within a minute.
  "DELETE /api/cards/[id]": {
    path: () => `/api/cards/${ids.draw}`,
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/sign-in/director": {
    body: () => ({ email: "nobody@band.example", password: "wrong" }),
    expects: [400, 400, 400, 400, 400],
  },
  "POST /api/sign-in/student": {
    body: () => ({ classCode: "NONE", name: "x", words: "x" }),
    expects: [400, 400, 400, 400, 400],
  },
  "GET /api/lines": { expects: [401, 200, 403, 403, 200] },
  "POST /api/lines": {
    path: () => "/api/lines?fileName=x.musicxml",
    body: () => new TextEncoder().encode("no music"),
    expects: [401, 400, 403, 403, 400],
  },
  "POST /api/lines/look": {
    path: () => "/api/lines/look?fileName=x.musicxml",
    body: () => new TextEncoder().encode("no music"),
    expects: [401, 400, 403, 403, 400],
  },
  "GET /api/lines/[id]/parts/[instrument]": {
    path: () => `/api/lines/${ids.line}/parts/concert`,
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/lines/[id]/files/[file]": {
    path: () => `/api/lines/${ids.line}/files/concert.musicxml`,
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/lines/catalogued": {
    body: () => ({ ...about, fifths: -2, beats: 4, beatType: 4, bars: 8, bpm: 80 }),
    expects: [401, 200, 403, 403, 200],
  },
  "GET /api/lines/[id]": { path: () => `/api/lines/${ids.line}`, expects: [401, 404, 403, 403, 200] },
  "PUT /api/lines/[id]": {
    path: () => `/api/lines/${ids.line}`,
    body: () => about,
    expects: [401, 404, 403, 403, 200],
  },
  // The line of the other rows was given, so it is archived and never deleted.
  "POST /api/lines/[id]/removed": {
    path: () => `/api/lines/${ids.spareLine}/removed`,
    body: () => ({ removed: true }),
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/lines/[id]": {
    path: () => `/api/lines/${ids.spareLine}`,
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/lines/[id]/bundle": {
    path: () => `/api/lines/${ids.line}/bundle`,
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/lines/[id]/score": {
    path: () => `/api/lines/${ids.line}/score`,
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/lines/[id]/voices/[part]": {
    path: () => `/api/lines/${ids.line}/voices/P1?basedOn=${ids.revision}`,
    body: () => new TextEncoder().encode(writeMusicXml(line("Bb4:4 | C5:4"))),
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/lines/[id]/voices/[part]": {
    path: () => `/api/lines/${ids.line}/voices/P9`,
    expects: [401, 404, 403, 403, 404],
  },
  "PUT /api/lines/[id]/overrides/[instrument]": {
    path: () => `/api/lines/${ids.line}/overrides/horn`,
    body: () => ({ octave: null }),
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/lines/[id]/pencil": {
    path: () => `/api/lines/${ids.line}/pencil`,
    expects: [401, 404, 200, 200, 200],
  },
  "POST /api/lines/[id]/pencil": {
    path: () => `/api/lines/${ids.line}/pencil`,
    body: () => ({ eventId: ids.event, kind: "reminder", text: "count" }),
    expects: [401, 404, 200, 200, 200],
  },
  // The director's own mark: a player's attempt finds nothing of his own there.
  "DELETE /api/pencil/[id]": { path: () => `/api/pencil/${ids.mark}`, expects: [401, 404, 404, 404, 200] },
  "GET /api/lines/[id]/recordings": {
    path: () => `/api/lines/${ids.line}/recordings`,
    expects: [401, 404, 200, 200, 200],
  },
  "POST /api/lines/[id]/recordings": {
    path: () => `/api/lines/${ids.line}/recordings?name=x`,
    body: () => silence(),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/recordings/[id]": {
    path: () => `/api/recordings/${ids.recording}`,
    body: () => ({ bars: [0, 1] }),
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/recordings/[id]/sound": {
    path: () => `/api/recordings/${ids.recording}/sound`,
    expects: [401, 404, 200, 200, 200],
  },
  "PUT /api/recordings/[id]/removed": {
    path: () => `/api/recordings/${ids.recording}/removed`,
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/recordings/[id]/removed": {
    path: () => `/api/recordings/${ids.recording}/removed`,
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/views": { expects: [401, 200, 403, 403, 200] },
  "POST /api/views": {
    body: () => ({ name: crypto.randomUUID(), filter: noFilter }),
    expects: [401, 200, 403, 403, 200],
  },
  "DELETE /api/views/[id]": { path: () => `/api/views/${ids.view}`, expects: [401, 404, 403, 403, 200] },
  "GET /api/fingerings/[instrument]": {
    path: () => "/api/fingerings/clarinet",
    expects: [401, 200, 403, 403, 200],
  },
  "PUT /api/fingerings/[instrument]": {
    path: () => "/api/fingerings/clarinet",
    body: () => ({ notes: [{ midi: 60, text: null }] }),
    expects: [401, 200, 403, 403, 200],
  },
  "POST /api/drawings": {
    body: () => new TextEncoder().encode(writeMusicXml(line("Bb4:4"))),
    expects: [401, 200, 403, 403, 200],
  },
  "PUT /api/players/[id]/builds/[instrument]": {
    path: () => `/api/players/${ids.player}/builds/flute`,
    body: () => ({ variant: null }),
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/assignments": { expects: [401, 200, 403, 403, 200] },
  "POST /api/assignments": {
    body: () => ({ lineId: ids.line, ...given(), only: { playerIds: [ids.player] } }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/assignments/[id]/withdrawn": {
    path: () => `/api/assignments/${ids.assignment}/withdrawn`,
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/assignments/[id]/withdrawn": {
    path: () => `/api/assignments/${ids.assignment}/withdrawn`,
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/room": {
    body: () => ({ groupId: ids.group, date: LESSON }),
    expects: [401, 404, 403, 403, 200],
  },
  // A code that opens nothing is told so to anybody.
  "POST /api/room/join": { body: () => ({ code: "AAAAAA" }), expects: [400, 400, 400, 400, 400] },
  "POST /api/room/lead": { body: () => ({ code: "AAAA" }), expects: [400, 400, 400, 400, 400] },
  "POST /api/room/passes": {
    body: () => ({ name: "Sub", from: LESSON, to: LESSON }),
    expects: [401, 200, 403, 403, 200],
  },
  "DELETE /api/room/passes/[id]": {
    path: () => `/api/room/passes/${ids.pass}`,
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/room/[id]": { path: () => `/api/room/${ids.room}`, expects: [401, 404, 403, 403, 200] },
  "GET /api/room/[id]/notes": {
    path: () => `/api/room/${ids.room}/notes?line=${ids.line}`,
    // Not to be done at home: for a player there is no such lesson.
    expects: [401, 404, 404, 404, 200],
  },
  "GET /api/room/[id]/stream": {
    path: () => `/api/room/${ids.room}/stream`,
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/room/[id]/state": {
    path: () => `/api/room/${ids.room}/state`,
    body: () => ({ version: 1, heard: 0, state: firstState([], 0) }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/room/[id]/commands": {
    path: () => `/api/room/${ids.room}/commands`,
    body: () => ({ id: crypto.randomUUID(), command: { kind: "next" } }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/room/[id]/log": {
    path: () => `/api/room/${ids.room}/log`,
    body: () => ({
      entries: [
        {
          id: crypto.randomUUID(),
          atMs: 0,
          blockId: null,
          note: { kind: "absent", playerId: ids.player },
          undone: false,
        },
      ],
    }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/room/[id]/door": {
    path: () => `/api/room/${ids.room}/door`,
    body: () => ({ open: true }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/room/[id]/at-home": {
    path: () => `/api/room/${ids.room}/at-home`,
    body: () => ({ open: false }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/room/[id]/goal": {
    path: () => `/api/room/${ids.room}/goal`,
    body: () => ({ goal: "Begin together." }),
    expects: [401, 404, 403, 403, 200],
  },
  // Nothing was planned in this lesson, so nothing can go home from it.
  "POST /api/room/[id]/home": {
    path: () => `/api/room/${ids.room}/home`,
    body: () => ({ blocks: [ids.strip], dueDate: LESSON }),
    expects: [401, 404, 403, 403, 400],
  },
  "GET /api/room/[id]/lessons": {
    path: () => `/api/room/${ids.room}/lessons`,
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/room/[id]/lessons": {
    path: () => `/api/room/${ids.room}/lessons`,
    body: () => ({ strips: [ids.earlierStrip] }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/room/[id]/close": {
    path: () => `/api/room/${ids.room}/close`,
    body: () => ({ taught: [], notReached: [ids.classStrip], forNext: false }),
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/room/[id]/close": {
    path: () => `/api/room/${ids.room}/close`,
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/takes": { expects: [401, 200, 403, 403, 200] },
  "GET /api/takes/heard": { expects: [401, 200, 403, 403, 200] },
  "GET /api/takes/choices": { expects: [401, 200, 403, 403, 200] },
  "POST /api/takes/release": { expects: [401, 200, 403, 403, 200] },
  "POST /api/takes/[id]/pins": {
    path: () => `/api/takes/${ids.take}/pins`,
    body: () => ({ eventId: ids.event, text: "Here." }),
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/pins/[id]": { path: () => `/api/pins/${ids.lastPin}`, expects: [401, 404, 403, 403, 200] },
  "PUT /api/pins/[id]/sound": {
    path: () => `/api/pins/${ids.pin}/sound`,
    body: silence,
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/tasks/[id]/brought": {
    path: () => `/api/tasks/${ids.task}/brought?at=2026-01-01T10:00:00Z`,
    body: silence,
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/band/rubrics": { expects: [401, 200, 403, 403, 200] },
  "GET /api/words": { expects: [401, 200, 403, 403, 200] },
  "PUT /api/words": {
    body: () => ({ place: "advice missed", text: "Mine." }),
    expects: [401, 200, 403, 403, 200],
  },
  "PUT /api/tasks/[id]/claim": {
    path: () => `/api/tasks/${ids.task}/claim`,
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/takes/[id]": { path: () => `/api/takes/${ids.take}`, expects: [401, 404, 403, 403, 200] },
  "PUT /api/takes/[id]/review": {
    path: () => `/api/takes/${ids.take}/review`,
    body: () => ({ decision: "accepted", comment: "", marks: { notes: 3 } }),
    expects: [401, 404, 403, 403, 200],
  },
  // The answer was released: its player hears the mark too.
  "GET /api/pins/[id]/sound": {
    path: () => `/api/pins/${ids.pin}/sound`,
    expects: [401, 404, 404, 200, 200],
  },
  "DELETE /api/takes/[id]/review": {
    path: () => `/api/takes/${ids.take}/review`,
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/takes/[id]/sound": {
    path: () => `/api/takes/${ids.take}/sound`,
    expects: [401, 404, 404, 200, 200],
  },
  // The take was heard, so there is nothing to try again: whoever may ask is told so.
  "POST /api/takes/[id]/again": {
    path: () => `/api/takes/${ids.take}/again`,
    expects: [401, 404, 404, 409, 409],
  },
  // No worker runs here, so the bench has heard nothing that could be overruled: the director is told so.
  "PUT /api/takes/[id]/overrule": {
    path: () => `/api/takes/${ids.take}/overrule`,
    body: () => ({ word: { about: "take" }, on: false }),
    expects: [401, 404, 403, 403, 409],
  },
  "GET /api/takes/together": { expects: [401, 200, 403, 403, 200] },
  "PUT /api/takes/together": {
    body: () => ({ takeIds: [ids.take], accepted: false }),
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/takes/[id]/task": {
    path: () => `/api/takes/${ids.take}/task`,
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/takes/[id]/task": {
    path: () => `/api/takes/${ids.take}/task`,
    body: () => ({ taskId: ids.task }),
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/stand": { expects: [401, 403, 200, 200, 403] },
  "GET /api/tasks/[id]": { path: () => `/api/tasks/${ids.task}`, expects: [401, 403, 404, 200, 403] },
  "PUT /api/tasks/[id]/instrument": {
    path: () => `/api/tasks/${ids.task}/instrument`,
    body: () => ({ instrumentId: "clarinet" }),
    expects: [401, 403, 404, 200, 403],
  },
  // The director wants to hear this one.
  "PUT /api/tasks/[id]/done": {
    path: () => `/api/tasks/${ids.task}/done`,
    body: () => ({ done: true }),
    expects: [401, 403, 404, 409, 403],
  },
  // There is no further line in a book here; of another band's lines nothing is known.
  "POST /api/tasks": { body: () => ({ lineId: ids.line }), expects: [401, 403, 409, 409, 403] },
  // A director gave this one: it is not the player's to put back.
  "PUT /api/tasks/[id]/kept": {
    path: () => `/api/tasks/${ids.task}/kept`,
    body: () => ({ kept: false }),
    expects: [401, 403, 404, 409, 403],
  },
  "GET /api/tasks/[id]/section": {
    path: () => `/api/tasks/${ids.task}/section`,
    expects: [401, 403, 404, 200, 403],
  },
  "POST /api/uploads": { body: fresh, expects: [401, 403, 404, 200, 403] },
  "PUT /api/uploads/[id]/chunk": {
    path: () => `/api/uploads/${ids.upload}/chunk?offset=0`,
    body: () => new Uint8Array(5),
    expects: [401, 403, 404, 200, 403],
  },
  "POST /api/uploads/[id]/complete": {
    path: () => `/api/uploads/${ids.upload}/complete`,
    expects: [401, 403, 404, 409, 403],
  },
  "GET /api/players": { expects: [401, 200, 403, 403, 200] },
  "POST /api/players": {
    body: () => ({
      name: `New ${crypto.randomUUID()}`,
      instruments: ["flute"],
      stage: "five-notes",
      groupIds: [ids.group],
    }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/groups": { body: () => ({ name: crypto.randomUUID() }), expects: [401, 200, 403, 403, 200] },
  "GET /api/routines": { expects: [401, 200, 403, 403, 200] },
  "POST /api/routines": { body: () => ({ content: routine() }), expects: [401, 404, 403, 403, 200] },
  "POST /api/routines/preview": {
    body: () => ({
      block: usualBlock("scales", "b1"),
      instrumentId: "clarinet",
      stage: "small-tunes",
      pieceBpm: 80,
    }),
    expects: [401, 200, 403, 403, 200],
  },
  "GET /api/routines/[id]": {
    path: () => `/api/routines/${ids.routine}`,
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/routines/[id]": {
    path: () => `/api/routines/${ids.routine}`,
    body: () => ({ basedOn: 1, content: routine() }),
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/routines/[id]/versions/[number]": {
    path: () => `/api/routines/${ids.routine}/versions/1`,
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/routines/[id]/given": {
    path: () => `/api/routines/${ids.routine}/given`,
    body: () => ({ ...given(), blockId: "b1" }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/routines/[id]/removed": {
    path: () => `/api/routines/${ids.routine}/removed`,
    body: () => ({ removed: true }),
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/drills": { expects: [401, 200, 403, 403, 200] },
  "POST /api/drills": { body: drill, expects: [401, 200, 403, 403, 200] },
  "GET /api/drills/[id]": { path: () => `/api/drills/${ids.drill}`, expects: [401, 404, 403, 403, 200] },
  "PUT /api/drills/[id]": {
    path: () => `/api/drills/${ids.drill}`,
    body: () => ({ ...drill(), basedOn: 1 }),
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/drills/[id]/page": {
    path: () => `/api/drills/${ids.drill}/page?system=numbers`,
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/drills/[id]/given": {
    path: () => `/api/drills/${ids.drill}/given`,
    body: given,
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/drills/[id]/removed": {
    path: () => `/api/drills/${ids.drill}/removed`,
    body: () => ({ removed: true }),
    expects: [401, 404, 403, 403, 200],
  },
  // What a band counts in is told to its players too.
  "GET /api/counting/systems": { expects: [401, 200, 200, 200, 200] },
  "POST /api/counting/systems": {
    body: () => {
      const { id: _id, source: _source, ...own } = OWN_WORDS;
      return { ...own, name: crypto.randomUUID() };
    },
    expects: [401, 200, 403, 403, 200],
  },
  "PUT /api/counting/chosen": { body: () => ({ system: "takadimi" }), expects: [401, 200, 403, 403, 200] },
  "GET /api/courses": { expects: [401, 200, 403, 403, 200] },
  "POST /api/courses": {
    body: () => ({ title: "Course", settings: USUAL_COURSE }),
    expects: [401, 200, 403, 403, 200],
  },
  "GET /api/courses/[id]": { path: () => `/api/courses/${ids.course}`, expects: [401, 404, 403, 403, 200] },
  "POST /api/courses/[id]/missed": {
    path: () => `/api/courses/${ids.course}/missed`,
    body: () => ({ day: 1, formId: "4/4:1:x---", missed: false }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/courses/[id]/days": {
    path: () => `/api/courses/${ids.course}/days`,
    body: () => ({ day: 1 }),
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/reminders": { expects: [401, 200, 403, 403, 200] },
  "POST /api/reminders": {
    path: () => "/api/reminders?name=x",
    body: () => silence(),
    expects: [401, 200, 403, 403, 200],
  },
  "GET /api/reminders/[id]/sound": {
    path: () => `/api/reminders/${ids.reminder}/sound`,
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/reminders/[id]/removed": {
    path: () => `/api/reminders/${ids.reminder}/removed`,
    body: () => ({ removed: true }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/players": {
    body: () => ({ changes: [{ playerId: ids.player, field: "calledName", was: "", is: "" }] }),
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/changes/[id]": {
    path: () => `/api/changes/${ids.change}`,
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/roster": { expects: [401, 200, 403, 403, 200] },
  "POST /api/roster": {
    body: () => ({ text: `Name,Instrument\nRow ${crypto.randomUUID()},flute` }),
    expects: [401, 200, 403, 403, 200],
  },
  "POST /api/roster/look": {
    body: () => ({ text: "Name,Instrument\nRow One,flute" }),
    expects: [401, 200, 403, 403, 200],
  },
  "PUT /api/groups/[id]": {
    path: () => `/api/groups/${ids.spareGroup}`,
    body: () => ({ name: `Renamed ${crypto.randomUUID()}`, rule: [] }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/groups/[id]/members": {
    path: () => `/api/groups/${ids.spareGroup}/members`,
    body: () => ({ playerIds: [ids.player] }),
    expects: [401, 404, 403, 403, 200],
  },
  // Its players share no two notes yet.
  "POST /api/groups/[id]/every-note": {
    path: () => `/api/groups/${ids.group}/every-note`,
    expects: [401, 404, 403, 403, 400],
  },
  "DELETE /api/groups/[id]": {
    path: () => `/api/groups/${ids.spareGroup}`,
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/groups/[id]/restored": {
    path: () => `/api/groups/${ids.spareGroup}/restored`,
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/assignments/[id]": {
    path: () => `/api/assignments/${ids.assignment}`,
    body: () => ({ goalBpm: 84, timesPerWeek: 4, dueDate: "2099-01-01", terms: { test: true } }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/assignments/[id]/make-up": {
    path: () => `/api/assignments/${ids.assignment}/make-up`,
    body: () => ({ playerIds: [ids.player], dueDate: "2099-01-01" }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/assignments/[id]/players": {
    path: () => `/api/assignments/${ids.assignment}/players`,
    body: () => ({ playerId: ids.player }),
    expects: [401, 404, 403, 403, 200],
  },
  // What was taught with a line of another band is nothing here.
  "GET /api/lines/[id]/taught": {
    path: () => `/api/lines/${ids.line}/taught`,
    expects: [401, 200, 403, 403, 200],
  },
  "POST /api/lines/[id]/taught": {
    path: () => `/api/lines/${ids.line}/taught`,
    body: () => ({ groupId: ids.group, on: "2026-01-01" }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/teachings": {
    body: () => ({
      groupId: ids.group,
      instrumentId: "flute",
      things: [{ kind: "note", thing: "70" }],
      on: "2026-01-01",
    }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/teachings/concert": {
    body: () => ({ groupId: ids.group, pitchClass: 3, on: "2026-01-01" }),
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/teachings/[id]": {
    path: () => `/api/teachings/${ids.teaching}`,
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/teachings/[id]": {
    path: () => `/api/teachings/${ids.teaching}`,
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/players/[id]/knowledge": {
    path: () => `/api/players/${ids.player}/knowledge`,
    body: () => ({ instrumentId: "flute", kind: "note", thing: "70" }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/players/[id]/knowledge": {
    path: () => `/api/players/${ids.player}/knowledge`,
    body: () => ({ instrumentId: "flute", kind: "note", thing: "70" }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/players/[id]/exempt": {
    path: () => `/api/players/${ids.player}/exempt`,
    body: () => ({ instrumentId: "flute", writtenMidi: 60, exempt: true }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/books": { expects: [401, 200, 403, 403, 200] },
  "PUT /api/plan/strips": {
    body: () => {
      const id = crypto.randomUUID();
      return { since: 0, changes: [{ id, basis: null, strip: strip(id) }] };
    },
    expects: [401, 404, 403, 403, 200],
  },
  // Nothing stands in that week.
  "POST /api/plan/templates": {
    body: () => ({ name: "Usual", of: "2199-01-07" }),
    expects: [401, 400, 403, 403, 400],
  },
  "GET /api/plan/templates/[id]": {
    path: () => `/api/plan/templates/${templateId}`,
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/plan/templates/[id]": {
    path: () => `/api/plan/templates/${templateId}`,
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/plan/templates/[id]": {
    path: () => `/api/plan/templates/${templateId}`,
    expects: [401, 404, 403, 403, 200],
  },
  // There is no term ahead in either band.
  "GET /api/plan/term": { expects: [401, 409, 403, 403, 409] },
  "GET /api/plan/drawer": { expects: [401, 200, 403, 403, 200] },
  "GET /api/plan/strips": {
    path: () => "/api/plan/strips?of=2099-01-05",
    expects: [401, 200, 403, 403, 200],
  },
  "POST /api/plan/reminder": {
    body: () => ({ sure: true }),
    expects: [401, 200, 403, 403, 200],
  },
  "POST /api/plan/draft": {
    body: () => ({ monday: "2099-01-05", groupIds: [ids.group] }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/plan/turned-down": {
    body: () => ({ groupId: ids.group, proposal: "line/x", said: "not this one", down: true }),
    expects: [401, 404, 403, 403, 200],
  },
  // A week in which nothing is asked: an empty page is printed as well.
  "GET /api/plan/paper": {
    path: () => "/api/plan/paper?form=family&of=2010-01-04",
    expects: [401, 200, 403, 403, 200],
  },
  "PUT /api/plan/absent": {
    body: () => ({ groupId: ids.group, date: "2099-01-06", playerId: ids.player, absent: true }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/plan/given": {
    body: () => ({ stripIds: [ids.strip] }),
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/plan/given": {
    body: () => ({ stripIds: [ids.strip] }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/calendar": { body: () => schoolYear(), expects: [401, 404, 403, 403, 200] },
  "GET /api/concerts/[id]": {
    path: () => `/api/concerts/${CONCERT}`,
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/concerts/[id]": {
    path: () => `/api/concerts/${CONCERT}`,
    body: () => ({ version: 1, programme: [{ kind: "line", refId: ids.line, groupId: ids.group }] }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/pieces/[id]": {
    path: () => `/api/pieces/${ids.piece}`,
    body: () => ({ version: 1, title: "Piece", bars: 8, bpm: null, lineId: ids.line, passages: [] }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/pieces/[id]/removed": {
    path: () => `/api/pieces/${ids.piece}/removed`,
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/pieces/[id]/removed": {
    path: () => `/api/pieces/${ids.piece}/removed`,
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/handouts": {
    path: () => "/api/handouts?kind=worksheet&title=x",
    body: () => new TextEncoder().encode("%PDF-1.4"),
    expects: [401, 200, 403, 403, 200],
  },
  "POST /api/handouts/address": {
    body: () => ({ title: "March", address: "https://music.example/march" }),
    expects: [401, 200, 403, 403, 200],
  },
  // It is on no stand.
  "GET /api/handouts/[id]/file": {
    path: () => `/api/handouts/${ids.handout}/file`,
    expects: [401, 404, 404, 404, 200],
  },
  "PUT /api/handouts/[id]/removed": {
    path: () => `/api/handouts/${ids.handout}/removed`,
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/handouts/[id]/removed": {
    path: () => `/api/handouts/${ids.handout}/removed`,
    expects: [401, 404, 403, 403, 200],
  },
  // Cards for the student alone.
  "PUT /api/strips/[id]/done": {
    path: () => `/api/strips/${ids.cards}/done`,
    body: () => ({ done: true }),
    expects: [401, 403, 404, 200, 403],
  },
  "GET /api/practice": { expects: [401, 403, 200, 200, 403] },
  "POST /api/practice": {
    body: () => ({
      playerId: ids.self,
      sentAt: new Date().toISOString(),
      facts: [
        { id: crypto.randomUUID(), at: new Date().toISOString(), seconds: 1, kind: "tool", tool: "tuner" },
      ],
    }),
    // What the student practised is taken from the student alone.
    expects: [401, 403, 404, 200, 403],
  },
  "PUT /api/preferences": {
    body: () => ({ large: false, leftHanded: false }),
    expects: [401, 403, 200, 200, 403],
  },
  "POST /api/tasks/[id]/questions": {
    path: () => `/api/tasks/${ids.task}/questions`,
    body: () => ({ id: crypto.randomUUID(), kind: "question", measure: "1", text: "Like this?" }),
    expects: [401, 403, 404, 200, 403],
  },
  "GET /api/questions": { expects: [401, 200, 403, 403, 200] },
  "PUT /api/questions/[id]": {
    path: () => `/api/questions/${ids.question}`,
    body: () => ({ answer: "Yes." }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/questions/[id]/sound": {
    path: () => `/api/questions/${ids.question}/sound`,
    body: silence,
    expects: [401, 404, 403, 403, 200],
  },
  // Who asked hears the answer, and the directors.
  "GET /api/questions/[id]/sound": {
    path: () => `/api/questions/${ids.question}/sound`,
    expects: [401, 404, 404, 200, 200],
  },
  "PUT /api/plan/clash": {
    body: () => ({ groupId: ids.group, playerId: ids.player, weekday: 2, clash: true }),
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/calendar/holidays": {
    body: () => ({ text: "BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n" }),
    expects: [401, 200, 403, 403, 200],
  },
  "POST /api/calendar/days-off": {
    body: () => ({ days: [{ from: "2098-12-24", to: "2098-12-26", name: "Feast" }] }),
    expects: [401, 200, 403, 403, 200],
  },
  "PUT /api/calendar/address": { expects: [401, 200, 403, 403, 200] },
  "DELETE /api/calendar/address": { expects: [401, 200, 403, 403, 200] },
  // Whoever has the address reads the calendar; there is none at another.
  "GET /calendar/[address].ics": {
    path: () => `/calendar/${"x".repeat(43)}.ics`,
    expects: [404, 404, 404, 404, 404],
  },
  // Settings whose hearing names no director of the band are refused for both.
  "PUT /api/band/settings": {
    body: () => ({ ...ids.settings, hearing: [crypto.randomUUID()] }),
    expects: [401, 400, 403, 403, 400],
  },
  "POST /api/band": {
    body: () => ({
      code: "NO-SUCH-CODE",
      name: "Mine",
      classCode: "MINE-1",
      timeZone: "Europe/Lisbon",
      directorName: "Me",
      email: "me@band.example",
      password: "long enough for a test",
    }),
    expects: [404, 404, 404, 404, 404],
  },
  "POST /api/directors": {
    body: () => ({ email: `${crypto.randomUUID()}@band.example` }),
    expects: [401, 200, 403, 403, 200],
  },
  "POST /api/directors/invitation": {
    body: () => ({ token: "never-a-token" }),
    expects: [404, 404, 404, 404, 404],
  },
  "POST /api/directors/accepted": {
    body: () => ({ token: "another-no-token", name: "Me", newPassword: "long enough for a test" }),
    expects: [404, 404, 404, 404, 404],
  },
  "DELETE /api/directors/[id]": {
    path: () => `/api/directors/${crypto.randomUUID()}`,
    expects: [401, 404, 403, 403, 404],
  },
  // The last director stays.
  "DELETE /api/directors/me": { expects: [401, 409, 403, 403, 409] },
  "POST /api/account/codes": {
    body: () => ({ password: "wrong" }),
    expects: [401, 400, 403, 403, 400],
  },
  "POST /api/account/recovered": {
    body: () => ({ email: "nobody@band.example", code: "NONE", newPassword: "long enough for a test" }),
    expects: [400, 400, 400, 400, 400],
  },
  "GET /api/growth": { expects: [401, 200, 403, 403, 200] },
  // Last: these end sessions.
  "POST /api/cards": {
    body: () => ({ drawId: crypto.randomUUID(), playerIds: [ids.player] }),
    expects: [401, 404, 403, 403, 200],
  },
  "PUT /api/account": {
    body: () => ({ name: "Nobody", email: "nobody@band.example", password: "wrong" }),
    expects: [401, 400, 403, 403, 400],
  },
  "POST /api/sign-out": { expects: [200, 200, 200, 200, 200] },
  "POST /api/sign-out-everywhere": { expects: [401, 401, 401, 401, 401] },
};

/** A line, a group, a task and a take of a band of its own. */
/** The group meets on Tuesdays, without the calendar having been saved: its row does that. */
async function meetsOnTuesdays(groupId: string): Promise<void> {
  const connection = await createConnection(application.databaseUrl);
  await connection.query(
    `INSERT INTO meetings (id, band_id, group_id, pattern, from_date, starts_at, minutes)
     SELECT ?, band_id, id, ?, '2098-08-01', '10:00', 40 FROM band_groups WHERE id = ?`,
    [crypto.randomUUID(), JSON.stringify({ kind: "weekly", weekdays: [2], everyWeeks: 1 }), groupId],
  );
  await connection.end();
}

async function idsOf(band: TestBand): Promise<typeof foreignIds> {
  const { person } = await makePlayer(application, band, "Fay Foreign", "flute");
  const { lineId } = await band.director.json<{ lineId: string }>(
    "POST",
    "/api/lines?fileName=f.musicxml",
    new TextEncoder().encode(writeMusicXml(line("Bb4:4 | C5:4"))),
  );
  await band.director.json("POST", "/api/assignments", { lineId, ...given(), groupId: band.groupId });
  const stand = await person.json<{ tasks: { id: string }[] }>("GET", "/api/stand");
  const task = stand.tasks[0]!.id;
  return { line: lineId, group: band.groupId, task, take: await sendTake(person, task, silence()) };
}

beforeAll(async () => {
  application = await startApplication();
  await application.startWeb();
  const own = await makeBand(application);
  const foreign = await makeBand(application);
  const student = await makePlayer(application, own, "Stu Dent", "clarinet");
  ids.self = student.playerId;
  const other = await makePlayer(application, own, "Otto Ther", "flute");
  const doomed = await makePlayer(application, own, "Cara Card", "flute");
  const { lineId } = await own.director.json<{ lineId: string }>(
    "POST",
    "/api/lines?fileName=a.musicxml",
    new TextEncoder().encode(writeMusicXml(line("Bb4:4 | C5:4"))),
  );
  const { assignmentId } = await own.director.json<{ assignmentId: string }>("POST", "/api/assignments", {
    lineId,
    groupId: own.groupId,
    goalBpm: 80,
    timesPerWeek: 5,
    dueDate: "2099-01-01",
  });
  const spare = await own.director.json<{ lineId: string }>(
    "POST",
    "/api/lines?fileName=b.musicxml",
    new TextEncoder().encode(writeMusicXml(line("Bb4:4 | D5:4"))),
  );
  const stand = await student.person.json<{ tasks: { id: string }[] }>("GET", "/api/stand");
  Object.assign(ids, {
    spareLine: spare.lineId,
    line: lineId,
    group: own.groupId,
    assignment: assignmentId,
    task: stand.tasks[0]!.id,
    player: doomed.playerId,
  });
  ids.take = await sendTake(student.person, ids.task, silence());
  const { score, revisionId } = await own.director.json<{ score: Score; revisionId: string }>(
    "GET",
    `/api/lines/${lineId}/score`,
  );
  ids.revision = revisionId;
  ids.event = score.parts[0].measures[0]!.events[0]!.id;
  const made = async (path: string, body: unknown) =>
    (await own.director.json<{ id: string }>("POST", path, body)).id;
  const spare2 = await makePlayer(application, own, "Chan Geling", "flute");
  const { changeId } = await own.director.json<{ changeId: string }>("PUT", "/api/players", {
    changes: [{ playerId: spare2.playerId, field: "kit", was: "", is: "reed 2" }],
  });
  ids.change = changeId;
  redrawn = spare2.playerId;
  ids.spareGroup = (
    await own.director.json<{ groupId: string }>("POST", "/api/groups", { name: "Spare" })
  ).groupId;
  ids.teaching = (
    await own.director.json<{ teachingId: string }>("POST", "/api/teachings", {
      groupId: own.groupId,
      instrumentId: null,
      things: [{ kind: "rhythm", thing: "half" }],
      on: "2026-01-01",
    })
  ).teachingId;
  const judging = { inTuneCents: 20, inTimeMs: 70 };
  ids.settings = {
    name: "Band",
    town: "",
    timeZone: "Europe/Lisbon",
    a4Hz: 440,
    judging: { "making-a-sound": judging, "five-notes": judging, "small-tunes": judging, widening: judging },
    naming: "letters",
    paper: "a4",
    weekendsOff: true,
    daysOff: [],
    cardsFirst: true,
    soundWeeks: 5,
    schoolWeek: [1, 2, 3, 4, 5],
    homeMinutes: 20,
    changeoverMinutes: 1,
    rubrics: [USUAL_RUBRIC],
    late: { percentPerDay: 10, mostPercent: 30 },
    redo: "best",
    attempts: "best",
    corrected: "right",
    cleanSamples: 3,
    markTogether: false,
    whenDone: "clean-days",
    cleanPasses: 1,
    cleanDays: 2,
    poorTries: 3,
    playingMinutes: 30,
    tuneWhen: "before",
    firstMeeting: "heard",
    putTogether: "halves",
    slursFirst: "tongued",
    ownPace: true,
    hearFirst: true,
    release: "at-once",
    trustPercent: 70,
    logBy: "times",
    logSheet: false,
    lineHint: "",
    spaceHint: "",
    retentionWeeks: null,
  };
  ids.question = crypto.randomUUID();
  await student.person.json("POST", `/api/tasks/${ids.task}/questions`, {
    id: ids.question,
    kind: "question",
    measure: null,
    text: "Which fingering?",
  });
  ids.strip = crypto.randomUUID();
  await own.director.json("PUT", "/api/plan/strips", {
    since: 0,
    changes: [{ id: ids.strip, basis: null, strip: { ...strip(ids.strip), forWhom: { kind: "everyone" } } }],
  });
  ids.cards = crypto.randomUUID();
  const forStudent = { kind: "player", playerId: student.playerId };
  const cards = { ...strip(ids.cards), kind: "cards", refId: null, title: "Cards", forWhom: forStudent };
  await own.director.json("PUT", "/api/plan/strips", {
    since: 0,
    changes: [{ id: ids.cards, basis: null, strip: cards }],
  });
  await own.director.json("POST", "/api/plan/given", { stripIds: [ids.cards] });

  ids.piece = crypto.randomUUID();
  await own.director.json("PUT", `/api/pieces/${ids.piece}`, {
    version: null,
    title: "Piece",
    bars: 8,
    bpm: null,
    lineId: null,
    passages: [],
  });
  await meetsOnTuesdays(own.groupId);
  ids.classStrip = crypto.randomUUID();
  ids.earlierStrip = crypto.randomUUID();
  const inClass = (id: string, date: string) => ({
    id,
    basis: null,
    strip: { ...strip(id), where: "class", forWhom: { kind: "everyone" }, date },
  });
  await own.director.json("PUT", "/api/plan/strips", {
    since: 0,
    changes: [inClass(ids.classStrip, LESSON), inClass(ids.earlierStrip, LESSON_BEFORE)],
  });
  ids.room = await made("/api/room", { groupId: own.groupId, date: LESSON });
  ids.pass = await made("/api/room/passes", { name: "Sub", from: LESSON, to: LESSON });
  ids.handout = await made("/api/handouts?kind=worksheet&title=x", new TextEncoder().encode("%PDF-1.4"));
  templateId = await made("/api/plan/templates", { name: "Kept", of: "2099-01-07" });
  ids.recording = await made(`/api/lines/${lineId}/recordings?name=x`, silence());
  ids.mark = await made(`/api/lines/${lineId}/pencil`, { eventId: ids.event, kind: "breath", text: "" });
  ids.pin = await made(`/api/takes/${ids.take}/pins`, { eventId: ids.event, text: "Here." });
  ids.lastPin = await made(`/api/takes/${ids.take}/pins`, { eventId: ids.event, text: "There." });
  await own.director.send("PUT", `/api/pins/${ids.pin}/sound`, silence());
  ids.view = await made("/api/views", { name: "Kept", filter: noFilter });
  ids.routine = await made("/api/routines", { content: routine() });
  ids.drill = await made("/api/drills", drill());
  ids.course = await made("/api/courses", { title: "Course", settings: USUAL_COURSE });
  ids.reminder = await made("/api/reminders?name=x", silence());
  const announced = fresh();
  await student.person.json("POST", "/api/uploads", announced);
  ids.upload = announced.id;
  Object.assign(foreignIds, await idsOf(foreign));
  Object.assign(people, {
    nobody: new Person(application.url),
    "foreign director": foreign.director,
    "other student": other.person,
    student: student.person,
    director: own.director,
  });
}, 120_000);

afterAll(() => application?.close());

/** Every place in a body that holds an id of the band under test, with the body that names the other band's there. */
function withForeignIds(body: unknown): { place: string; body: unknown }[] {
  const kindOf = new Map(Object.entries(ids).map(([kind, id]) => [id, kind as keyof typeof ids]));
  const found: { place: string; body: unknown }[] = [];
  const walk = (value: unknown, place: string, put: (changed: unknown) => unknown) => {
    if (typeof value === "string") {
      const kind = value && kindOf.get(value);
      if (!kind) return;
      for (const other of [foreignIds[kind], crypto.randomUUID()])
        if (other) found.push({ place, body: put(other) });
    } else if (Array.isArray(value))
      for (const [i, each] of value.entries())
        walk(each, `${place}[${i}]`, (changed) => put(value.with(i, changed)));
    else if (value && typeof value === "object" && !(value instanceof Uint8Array))
      for (const [key, each] of Object.entries(value))
        walk(each, `${place}.${key}`, (changed) => put({ ...value, [key]: changed }));
  };
  walk(body, "", (changed) => changed);
  return found;
}

describe("ids in bodies that belong to another band, or to nobody", () => {
  it("are looked for in every endpoint that takes some", () => {
    const places = Object.entries(TABLE).flatMap(([endpoint, row]) =>
      withForeignIds(row.body?.()).map(({ place }) => `${endpoint} ${place}`),
    );
    expect([...new Set(places)].sort()).toEqual([
      "DELETE /api/plan/given .stripIds[0]",
      "POST /api/assignments .groupId",
      "POST /api/assignments .lineId",
      "POST /api/assignments .only.playerIds[0]",
      "POST /api/assignments/[id]/make-up .playerIds[0]",
      "POST /api/assignments/[id]/players .playerId",
      "POST /api/cards .playerIds[0]",
      "POST /api/drills/[id]/given .groupId",
      "POST /api/lines/[id]/pencil .eventId",
      "POST /api/lines/[id]/taught .groupId",
      "POST /api/plan/draft .groupIds[0]",
      "POST /api/plan/given .stripIds[0]",
      "POST /api/players .groupIds[0]",
      "POST /api/practice .playerId",
      "POST /api/room .groupId",
      "POST /api/room/[id]/close .notReached[0]",
      "POST /api/room/[id]/home .blocks[0]",
      "POST /api/room/[id]/log .entries[0].note.playerId",
      "POST /api/routines .content.blocks[0].mutedFor[0]",
      "POST /api/routines/[id]/given .groupId",
      "POST /api/takes/[id]/pins .eventId",
      "POST /api/tasks .lineId",
      "POST /api/teachings .groupId",
      "POST /api/teachings/concert .groupId",
      "POST /api/uploads .taskId",
      "PUT /api/calendar .goals[0].groupId",
      "PUT /api/calendar .goals[0].programme[0].groupId",
      "PUT /api/calendar .goals[0].programme[0].refId",
      "PUT /api/calendar .meetings[0].groupId",
      "PUT /api/concerts/[id] .programme[0].groupId",
      "PUT /api/concerts/[id] .programme[0].refId",
      "PUT /api/groups/[id]/members .playerIds[0]",
      "PUT /api/pieces/[id] .lineId",
      "PUT /api/plan/absent .groupId",
      "PUT /api/plan/absent .playerId",
      "PUT /api/plan/clash .groupId",
      "PUT /api/plan/clash .playerId",
      "PUT /api/plan/strips .changes[0].strip.forWhom.playerId",
      "PUT /api/plan/strips .changes[0].strip.groupId",
      "PUT /api/plan/strips .changes[0].strip.refId",
      "PUT /api/plan/turned-down .groupId",
      "PUT /api/players .changes[0].playerId",
      "PUT /api/room/[id]/lessons .strips[0]",
      "PUT /api/routines/[id] .content.blocks[0].mutedFor[0]",
      "PUT /api/takes/[id]/task .taskId",
      "PUT /api/takes/together .takeIds[0]",
    ]);
  });

  it.each(Object.keys(TABLE).filter((endpoint) => /^(POST|PUT)/.test(endpoint)))("%s", async (endpoint) => {
    const row = TABLE[endpoint]!;
    const [method, route] = endpoint.split(" ") as [string, string];
    const allowed = everyone.filter((_, i) => row.expects[i] === 200 && i >= 3);
    for (const { place, body } of withForeignIds(row.body?.()))
      for (const who of allowed) {
        const { status } = await people[who].send(method, row.path?.() ?? route, body);
        expect([place, who, status]).toEqual([place, who, 404]);
      }
  });

  it("never hand over or overwrite somebody else's take, announced under its id", async () => {
    const sound = await (await people.student.send("GET", `/api/takes/${ids.take}/sound`)).arrayBuffer();
    const otherTask = (await people["other student"].json<{ tasks: { id: string }[] }>("GET", "/api/stand"))
      .tasks[0]!.id;
    const bytes = writeWav({ samples: new Float32Array(8000).fill(0.5), sampleRate: 8000 });
    const announced = {
      ...fresh(),
      id: ids.take,
      taskId: otherTask,
      bytes: bytes.length,
      sha256: createHash("sha256").update(bytes).digest("hex"),
    };
    const thief = people["other student"];
    expect((await thief.send("POST", "/api/uploads", announced)).status).toBe(409);
    expect((await thief.send("PUT", `/api/uploads/${ids.take}/chunk?offset=0`, bytes)).status).toBe(404);
    const complete = await thief.send("POST", `/api/uploads/${ids.take}/complete`);
    expect([complete.status, await complete.text()]).toEqual([
      404,
      expect.not.stringContaining("assessment"),
    ]);
    // Nor under the id of an upload that is still on its way, nor for another of one's own tasks.
    expect((await thief.send("POST", "/api/uploads", { ...announced, id: ids.upload })).status).toBe(409);
    const now = await (await people.student.send("GET", `/api/takes/${ids.take}/sound`)).arrayBuffer();
    expect(Buffer.from(now).equals(Buffer.from(sound))).toBe(true);
  });
});

describe("odd requests", () => {
  it("of HEAD for a sound open no file", async () => {
    const pid = application.webPid();
    const open = () => readdirSync(`/proc/${pid}/fd`).length;
    const path = `/api/takes/${ids.take}/sound`;
    expect((await people.student.send("HEAD", path)).status).toBe(200);
    const before = open();
    for (let i = 0; i < 100; i++) {
      const { status, headers } = await people.student.send("HEAD", path);
      expect([status, Number(headers.get("content-length")) > 0]).toEqual([200, true]);
    }
    expect(open()).toBeLessThan(before + 10);
  });

  it("get 4xx and a sentence, never 500", async () => {
    const student = people.student;
    const director = people.director;
    const odd: [Person, string, string, unknown?][] = [
      [student, "POST", "/api/sign-in/student", { classCode: "KÖLN-4", name: "x", words: "x" }],
      [student, "POST", "/api/sign-in/student", { classCode: "😀", name: "\u0000", words: "\u200b" }],
      [director, "GET", `/api/lines/${ids.line}/parts/é`],
      [director, "GET", "/api/fingerings/é"],
      [director, "PUT", `/api/players/${ids.player}/builds/é`, { variant: null }],
      [director, "PUT", `/api/players/${ids.player}/builds/flute`, { variant: "é" }],
      [director, "PUT", `/api/lines/${ids.line}/overrides/é`, { octave: null }],
      [director, "POST", `/api/lines/${ids.line}/pencil`, { eventId: "é", kind: "breath", text: "" }],
      [
        director,
        "POST",
        `/api/lines/${ids.line}/pencil`,
        { eventId: ids.event, instrumentId: "é", kind: "breath", text: "" },
      ],
      [director, "POST", "/api/drills", { ...drill(), settings: { ...USUAL_PAGE, attacks: [2.5, 3.5] } }],
      [director, "POST", "/api/drills", { ...drill(), settings: { ...USUAL_PAGE, bars: 3.5 } }],
      [director, "POST", "/api/drills", { ...drill(), system: "é" }],
      [director, "POST", "/api/courses", { title: "x", settings: { ...USUAL_COURSE, minutesPerDay: 1e9 } }],
      [director, "POST", "/api/courses", { title: "x", settings: { ...USUAL_COURSE, loops: 0.3, bpm: -1 } }],
      [director, "POST", `/api/courses/${ids.course}/missed`, { day: 1, formId: "é", missed: true }],
      [
        director,
        "POST",
        "/api/players",
        { name: "\u200b\u200b", instruments: ["flute"], stage: "five-notes", groupIds: [] },
      ],
      [director, "POST", "/api/groups", { name: "\u0007" }],
      [director, "GET", `/api/lines/${ids.line}/score?part=${"é".repeat(200)}&instrument=é`],
      [director, "GET", "/api/lines/not-an-id"],
      [student, "POST", "/api/uploads", { ...fresh(), recordedAt: "never" }],
      [student, "POST", "/api/uploads", { ...fresh(), gaps: [{ fromSec: 2, toSec: 1 }] }],
    ];
    for (const [who, method, path, body] of odd) {
      const response = await who.send(method, encodeURI(decodeURI(path)), body);
      const answer = (await response.json()) as { error?: { message: string } };
      expect([method, path, response.status >= 400 && response.status < 500]).toEqual([method, path, true]);
      expect(answer.error!.message).toMatch(/[.!]$/);
    }
  });

  it("with methods no page of ours uses, or addresses of elsewhere, get 4xx", async () => {
    const ask = (head: string) =>
      new Promise<string>((answer) => {
        const { port } = new URL(application.url);
        const socket = connect(Number(port), "127.0.0.1", () => socket.write(`${head}\r\nHost: x\r\n\r\n`));
        socket.once("data", (data) => {
          answer(data.toString().split("\r\n")[0]!);
          socket.destroy();
        });
      });
    for (const head of ["TRACE / HTTP/1.1", "CONNECTX / HTTP/1.1", "PATCH /api/lines HTTP/1.1"])
      expect(await ask(head)).toMatch(/^HTTP\/1\.1 (400|405)/);
    for (const head of ["GET //evil.example/%2e HTTP/1.1", "GET /%ff HTTP/1.1", "GET http://evil/ HTTP/1.1"])
      expect(await ask(head)).toMatch(/^HTTP\/1\.1 4/);
  });

  it("keep a name as it is seen: composed, without invisible signs, and dates within reason", async () => {
    const name = `A\u030asa\u200b\u0000  Be\u0301rg ${crypto.randomUUID().slice(0, 4)}`;
    const input = { instruments: ["flute"], stage: "five-notes", groupIds: [] };
    const { playerId } = await people.director.json<{ playerId: string }>("POST", "/api/players", {
      name,
      ...input,
    });
    const { players } = await people.director.json<{ players: { id: string; name: string }[] }>(
      "GET",
      "/api/players",
    );
    expect(players.find((player) => player.id === playerId)!.name).toMatch(
      /^\u00c5sa B\u00e9rg [0-9a-f]{4}$/,
    );
    // The same name without its accents is the same name, and told so: two children may have one.
    const again = name.normalize("NFD").replace(/\p{M}/gu, "");
    expect(
      await people.director.json<{ sameName: boolean }>("POST", "/api/players", { name: again, ...input }),
    ).toMatchObject({ sameName: true });
  });
});

describe("leave for a lesson", () => {
  /** A phone that joined the lesson, and somebody who stands in on its day: what they may do beside what anybody may. */
  const OPEN: Record<"phone" | "stand-in", string[]> = {
    phone: [
      "GET /api/room/[id]",
      "GET /api/room/[id]/notes",
      "GET /api/room/[id]/stream",
      "POST /api/room/[id]/commands",
      "POST /api/room/[id]/log",
    ],
    "stand-in": [
      "GET /api/room/[id]",
      "GET /api/room/[id]/lessons",
      "GET /api/room/[id]/notes",
      "GET /api/room/[id]/stream",
      "POST /api/room",
      "POST /api/room/[id]/log",
      "PUT /api/room/[id]/lessons",
      "PUT /api/room/[id]/state",
    ],
  };
  const withLeave = {} as Record<keyof typeof OPEN, Person>;
  /** A lesson of its own: the other one was closed. */
  const paths = (path: string) => path.replaceAll(ids.room, leftOpen);
  let leftOpen = "";

  beforeAll(async () => {
    const date = "2098-09-09";
    const id = crypto.randomUUID();
    const planned = { ...strip(id), where: "class", forWhom: { kind: "everyone" }, date };
    await people.director.json("PUT", "/api/plan/strips", {
      since: 0,
      changes: [{ id, basis: null, strip: planned }],
    });
    leftOpen = (await people.director.json<{ id: string }>("POST", "/api/room", { groupId: ids.group, date }))
      .id;
    const { code } = await people.director.json<{ code: string }>("PUT", `/api/room/${leftOpen}/door`, {
      open: true,
    });
    const pass = await people.director.json<{ code: string }>("POST", "/api/room/passes", {
      name: "Sub",
      from: LESSON_BEFORE,
      to: date,
    });
    withLeave.phone = new Person(application.url);
    withLeave["stand-in"] = new Person(application.url);
    await withLeave.phone.json("POST", "/api/room/join", { code });
    await withLeave["stand-in"].json("POST", "/api/room/lead", { code: pass.code });
  });

  it.each(["phone", "stand-in"] as const)("opens to a %s the lesson and nothing else", async (who) => {
    const opened: string[] = [];
    for (const [endpoint, row] of Object.entries(TABLE)) {
      const [method, route] = endpoint.split(" ") as [string, string];
      // Signing somebody else in would end what is tried here.
      if (route.startsWith("/api/sign-in") || ["/api/room/join", "/api/room/lead"].includes(route)) continue;
      const { status, body } = await withLeave[who].send(method, paths(row.path?.() ?? route), row.body?.());
      await body?.cancel();
      if (status < 400 && row.expects[0] >= 400) opened.push(endpoint);
    }
    expect(opened.sort()).toEqual(OPEN[who].sort());
  });

  it("shows no page of the band but the lesson's own", async () => {
    const status = async (person: Person, path: string) => (await person.send("GET", path)).status;
    for (const page of [
      "/week",
      "/listen",
      "/band",
      "/growth",
      "/shelf",
      "/stand",
      "/room",
      `/room/log/${leftOpen}`,
    ])
      for (const who of [withLeave.phone, withLeave["stand-in"]])
        expect([page, await status(who, page)]).toEqual([page, 302]);
    expect(await status(withLeave.phone, `/remote/${leftOpen}`)).toBe(200);
    expect(await status(withLeave.phone, `/room/${leftOpen}`)).toBe(302);
    expect(await status(withLeave["stand-in"], `/room/${leftOpen}`)).toBe(200);
    expect(await status(withLeave["stand-in"], `/remote/${leftOpen}`)).toBe(302);
    expect(await status(people.student, `/room/${leftOpen}`)).toBe(302);
  });
});

describe("who may do what", () => {
  beforeAll(async () => {
    ids.draw = crypto.randomUUID();
    await people.director.json("POST", "/api/cards", { drawId: ids.draw, playerIds: [redrawn] });
  });

  it("has a row for every endpoint on disk", () => {
    expect(Object.keys(TABLE).sort()).toEqual(endpointsOnDisk().sort());
  });

  it.each(Object.entries(TABLE))("%s", async (endpoint, row) => {
    const [method, route] = endpoint.split(" ") as [string, string];
    const statuses: number[] = [];
    for (const who of everyone) {
      const response = await people[who].send(method, row.path?.() ?? route, row.body?.());
      statuses.push(response.status);
      if (!response.ok)
        expect(((await response.json()) as { error: { message: string } }).error.message).toMatch(/[.!]$/);
      else await response.body?.cancel();
    }
    expect(statuses).toEqual(row.expects);
  });
});

describe("every state-changing request", () => {
  it.each([
    ["a foreign page", "https://elsewhere.example"],
    ["a page on another port", "http://127.0.0.1:1"],
    ["no page at all", ""],
  ])("from %s is refused", async (_name, origin) => {
    const response = await fetch(`${application.url}/api/sign-in/student`, {
      method: "POST",
      headers: { "Content-Type": "application/json", ...(origin ? { Origin: origin } : {}) },
      body: "{}",
    });
    expect(response.status).toBe(403);
  });
});

describe("pages", () => {
  it("send nobody to the sign-in and never allow inline scripts", async () => {
    for (const page of ["/week", "/shelf", "/listen", "/growth", "/band", "/stand"]) {
      const response = await fetch(application.url + page, { redirect: "manual" });
      expect([page, response.status, response.headers.get("location")]).toEqual([
        page,
        302,
        `/sign-in?next=${encodeURIComponent(page)}`,
      ]);
    }
    const policy = (await fetch(`${application.url}/sign-in`)).headers.get("content-security-policy") ?? "";
    const scripts = /script-src([^;]*)/.exec(policy)?.[1] ?? "";
    expect(scripts).toContain("'self'");
    expect(scripts).not.toContain("unsafe-inline");
  });

  it("have no developers' lab on a server for a band, for anybody", async () => {
    expect((await fetch(`${application.url}/lab`)).status).toBe(404);
    expect((await people.director.send("GET", "/lab")).status).toBe(404);
  });
});

describe("signing in", () => {
  it("rests what is guessed after too many wrong words, and lets the right card in", async () => {
    const band = await makeBand(application);
    const { words } = await makePlayer(application, band, "Guess Me", "flute");
    const person = new Person(application.url);
    const attempt = (guess: string) =>
      person.send("POST", "/api/sign-in/student", {
        classCode: band.classCode,
        name: "Guess Me",
        words: guess,
      });
    for (let i = 0; i < 8; i++) expect((await attempt("four wrong little words")).status).toBe(400);
    const rested = await attempt("four other wrong words");
    expect(rested.status).toBe(429);
    expect(((await rested.json()) as { error: { code: string } }).error.code).toBe("too-many-tries");
    expect((await attempt(words)).status).toBe(200);
  });

  it("finds a name in any case and spacing, and gives a cookie no script can read", async () => {
    const band = await makeBand(application);
    const { words } = await makePlayer(application, band, "Åse  Ünal", "flute");
    const response = await new Person(application.url).send("POST", "/api/sign-in/student", {
      classCode: ` ${band.classCode.toLowerCase()} `,
      name: "åse ünal",
      words: ` ${words.toUpperCase().replaceAll(" ", "  ")}`,
    });
    expect(response.status).toBe(200);
    expect(response.headers.get("set-cookie")).toMatch(/HttpOnly/i);
    expect(response.headers.get("set-cookie")).toMatch(/SameSite=Lax/i);
  });

  it("ends old sessions when a new card is drawn and when signing out everywhere", async () => {
    const band = await makeBand(application);
    const { person, playerId } = await makePlayer(application, band, "Cora Card", "flute");
    expect((await person.send("GET", "/api/stand")).status).toBe(200);
    await band.director.json("POST", "/api/cards", { drawId: crypto.randomUUID(), playerIds: [playerId] });
    expect((await person.send("GET", "/api/stand")).status).toBe(401);
    const second = new Person(application.url);
    await second.json("POST", "/api/sign-in/director", {
      email: band.directorEmail,
      password: band.password,
    });
    await second.json("POST", "/api/sign-out-everywhere");
    expect((await band.director.send("GET", "/api/assignments")).status).toBe(401);
  });
});
