import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { writeWav } from "../../src/core/audio";
import { OWN_WORDS, USUAL_COURSE, USUAL_PAGE } from "../../src/core/rhythm";
import { type Score, writeMusicXml } from "../../src/core/score";
import { usualBlock } from "../../src/core/warmup";
import {
  type Application,
  makeBand,
  makePlayer,
  Person,
  sendTake,
  startApplication,
} from "../support/application";
import { line } from "../support/music";

/** Every way into the server, found on disk: a new endpoint without a row in the table fails. */
function endpointsOnDisk(folder = "src/pages/api", path = "/api"): string[] {
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
  group: "",
  assignment: "",
  task: "",
  take: "",
  player: "",
  upload: "",
  routine: "",
  drill: "",
  course: "",
  reminder: "",
};
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

const given = () => ({ groupId: ids.group, goalBpm: 80, timesPerWeek: 5, dueDate: "2099-01-01" });
const routine = () => ({
  title: "Routine",
  blocks: [usualBlock("scales", "b1")],
  changeoverSec: 10,
  budgetSec: 600,
  pieceBpm: 80,
});
const drill = () => ({ title: "Page", settings: USUAL_PAGE, bpm: 80, loops: 2, system: null });

/** 404 stands for "does not exist for you": ids of another band or another player are never confirmed. */
const TABLE: Record<string, Row> = {
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
    body: () => ({
      lineId: ids.line,
      groupId: ids.group,
      goalBpm: 80,
      timesPerWeek: 5,
      dueDate: "2099-01-01",
    }),
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
  "GET /api/takes": { expects: [401, 200, 403, 403, 200] },
  "GET /api/takes/[id]": { path: () => `/api/takes/${ids.take}`, expects: [401, 404, 403, 403, 200] },
  "PUT /api/takes/[id]/review": {
    path: () => `/api/takes/${ids.take}/review`,
    body: () => ({ decision: "accepted", comment: "", marks: { notes: 3 } }),
    expects: [401, 404, 403, 403, 200],
  },
  "DELETE /api/takes/[id]/review": {
    path: () => `/api/takes/${ids.take}/review`,
    expects: [401, 404, 403, 403, 200],
  },
  "GET /api/takes/[id]/sound": {
    path: () => `/api/takes/${ids.take}/sound`,
    expects: [401, 404, 404, 200, 200],
  },
  "GET /api/stand": { expects: [401, 403, 200, 200, 403] },
  "GET /api/tasks/[id]": { path: () => `/api/tasks/${ids.task}`, expects: [401, 403, 404, 200, 403] },
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
  "POST /api/routines": { body: () => ({ content: routine() }), expects: [401, 200, 403, 403, 200] },
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
  "GET /api/growth": { expects: [401, 200, 403, 403, 200] },
  // Last: these end sessions.
  "POST /api/players/[id]/card": {
    path: () => `/api/players/${ids.player}/card`,
    expects: [401, 404, 403, 403, 200],
  },
  "POST /api/sign-out": { expects: [200, 200, 200, 200, 200] },
  "POST /api/sign-out-everywhere": { expects: [401, 401, 401, 401, 401] },
};

beforeAll(async () => {
  application = await startApplication();
  await application.startWeb();
  const own = await makeBand(application);
  const foreign = await makeBand(application);
  const student = await makePlayer(application, own, "Stu Dent", "clarinet");
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
  const stand = await student.person.json<{ tasks: { id: string }[] }>("GET", "/api/stand");
  Object.assign(ids, {
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
  ids.recording = await made(`/api/lines/${lineId}/recordings?name=x`, silence());
  ids.mark = await made(`/api/lines/${lineId}/pencil`, { eventId: ids.event, kind: "breath", text: "" });
  ids.view = await made("/api/views", { name: "Kept", filter: noFilter });
  ids.routine = await made("/api/routines", { content: routine() });
  ids.drill = await made("/api/drills", drill());
  ids.course = await made("/api/courses", { title: "Course", settings: USUAL_COURSE });
  ids.reminder = await made("/api/reminders?name=x", silence());
  const announced = fresh();
  await student.person.json("POST", "/api/uploads", announced);
  ids.upload = announced.id;
  Object.assign(people, {
    nobody: new Person(application.url),
    "foreign director": foreign.director,
    "other student": other.person,
    student: student.person,
    director: own.director,
  });
}, 120_000);

afterAll(() => application?.close());

describe("who may do what", () => {
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
      expect([page, response.status, response.headers.get("location")]).toEqual([page, 302, "/sign-in"]);
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
  it("rests an account after too many wrong words, the right ones included, and tells nothing more", async () => {
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
    const rested = await attempt(words);
    expect(rested.status).toBe(429);
    expect(((await rested.json()) as { error: { code: string } }).error.code).toBe("too-many-tries");
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
    await band.director.json("POST", `/api/players/${playerId}/card`);
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
