import { execFileSync } from "node:child_process";
import { createHash, randomUUID } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { zipSync } from "fflate";
import { createConnection } from "mariadb";
import { writeWav } from "../../src/core/audio";
import { writeMusicXml } from "../../src/core/score";
import {
  type Application,
  makeBand,
  makePlayer,
  type Person,
  sendTake,
  startApplication,
  type TestBand,
  until,
  Person as Visitor,
} from "../support/application";
import { hostileMidi, hostileMusicXml } from "../support/hostile";
import { line } from "../support/music";
import { beside } from "./bystander";

/** One attack: what was tried, and how much of it the server held against. */
interface Attack {
  name: string;
  /** Done before the bystander begins to look. */
  prepare?: () => Promise<void>;
  run: () => Promise<{ tried: number; held: number; note?: string }>;
}

interface Scene {
  application: Application;
  own: TestBand;
  foreign: TestBand;
  student: { person: Person; playerId: string; words: string };
  thief: { person: Person; playerId: string };
  taskId: string;
  thiefTaskId: string;
  takeId: string;
  lineId: string;
}

const silence = () => writeWav({ samples: new Float32Array(8000), sampleRate: 8000 });
const text = (content: string) => new TextEncoder().encode(content);

async function setScene(): Promise<Scene> {
  const application = await startApplication();
  await application.startWeb();
  application.startWorker();
  const own = await makeBand(application);
  const foreign = await makeBand(application);
  const student = await makePlayer(application, own, "Ada Quiet", "clarinet");
  const thief = await makePlayer(application, own, "Bo Busy", "flute");
  for (let i = 0; i < 24; i++)
    await own.director.json("POST", "/api/players", {
      name: `Player ${i}`,
      instruments: [["trumpet", "horn", "trombone", "tuba", "sax-alto", "bells", "oboe", "bassoon"][i % 8]],
      stage: ["five-notes", "small-tunes", "widening"][i % 3],
      groupIds: [],
    });
  const { lineId } = await own.director.json<{ lineId: string }>(
    "POST",
    "/api/lines?fileName=tune.musicxml",
    text(writeMusicXml(line("Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 C5:2 | D5:2 C5:2 | Bb4:4"))),
  );
  await own.director.json("POST", "/api/assignments", {
    lineId,
    groupId: own.groupId,
    goalBpm: 80,
    timesPerWeek: 5,
    dueDate: "2099-01-01",
  });
  const taskOf = async (person: Person) =>
    (await person.json<{ tasks: { id: string }[] }>("GET", "/api/stand")).tasks[0]!.id;
  const taskId = await taskOf(student.person);
  return {
    application,
    own,
    foreign,
    student,
    thief,
    taskId,
    thiefTaskId: await taskOf(thief.person),
    takeId: await sendTake(student.person, taskId, silence()),
    lineId,
  };
}

/** Answers in the four hundreds, or 503 and 507, which say "later" in a sentence. */
const refused = (status: number) => (status >= 400 && status < 500) || status === 503 || status === 507;

async function inTurns<T>(
  items: readonly T[],
  atOnce: number,
  work: (item: T) => Promise<boolean>,
): Promise<number> {
  let held = 0;
  let next = 0;
  await Promise.all(
    Array.from({ length: atOnce }, async () => {
      while (next < items.length) if (await work(items[next++]!).catch(() => false)) held++;
    }),
  );
  return held;
}

/** The longest line that is accepted: as many bars as there may be, of eighths. */
function longest(): Uint8Array<ArrayBuffer> {
  const bar = "C5:1/2 D5:1/2 Eb5:1/2 F5:1/2 Eb5:1/2 D5:1/2 C5:1/2 D5:1/2";
  return text(writeMusicXml(line(Array.from({ length: 600 }, () => bar).join(" | "))));
}

function attacks(scene: Scene): Attack[] {
  const { application, own, foreign, student, thief } = scene;
  const importing = (bytes: Uint8Array<ArrayBuffer>) =>
    own.director.send("POST", "/api/lines?fileName=hostile", bytes);
  const wav = (seconds: number, extension: string, rate = 44100) =>
    Uint8Array.from(
      execFileSync(
        "ffmpeg",
        [
          ...["-v", "error", "-f", "lavfi", "-i", `anullsrc=r=${rate}:cl=mono`, "-t", String(seconds)],
          ...["-f", extension, "pipe:1"],
        ],
        { maxBuffer: 1e8 },
      ),
    );
  const bomb = Uint8Array.from(
    zipSync({
      "META-INF/container.xml": text(
        '<container><rootfiles><rootfile full-path="x.xml"/></rootfiles></container>',
      ),
      "x.xml": new Uint8Array(200_000_000),
    }),
  );
  const sounds = [
    wav(7200, "flac"),
    wav(1200, "ogg", 8000),
    wav(1200, "mp3", 8000),
    Uint8Array.from(Buffer.concat([Buffer.from("fLaC"), Buffer.alloc(500_000, 7)])),
  ];
  return [
    {
      name: "hostile MIDI and MusicXML files, four at once",
      run: async () => {
        const files = [...Object.values(hostileMidi), ...Object.values(hostileMusicXml)].map(([bytes]) =>
          bytes(),
        );
        const held = await inTurns([...files, ...files], 4, async (bytes) =>
          refused((await importing(bytes)).status),
        );
        return { tried: 2 * files.length, held };
      },
    },
    {
      name: "the longest line that is accepted (600 bars), six at once",
      run: async () => {
        const bytes = longest();
        const held = await inTurns([1, 2, 3, 4, 5, 6], 6, async () => {
          const { status } = await importing(bytes);
          return status === 200 || refused(status);
        });
        return { tried: 6, held };
      },
    },
    {
      name: "compressed scores that unfold to 200 MB, XML 400,000 elements wide and 10,000 deep",
      run: async () => {
        const wide = text(`<score-partwise>${"<a/>".repeat(400_001)}</score-partwise>`);
        const deep = text("<a>".repeat(10_000));
        const entity = text('<!DOCTYPE a [<!ENTITY b "bbbbbbbbbb">]><a>&b;</a>');
        const files = [bomb, wide, deep, entity];
        const held = await inTurns(files, 4, async (bytes) => refused((await importing(bytes)).status));
        return { tried: files.length, held };
      },
    },
    {
      name: "400 wrong passwords for one director at once",
      run: async () => {
        let tried = 0;
        await inTurns(Array.from({ length: 400 }), 400, async () => {
          const { status } = await new Visitor(application.url).send("POST", "/api/sign-in/director", {
            email: own.directorEmail,
            password: randomUUID(),
          });
          if (status === 400) tried++;
          return true;
        });
        return {
          tried: 400,
          held: 400 - Math.max(0, tried - 8),
          note: `${tried} were compared with the password`,
        };
      },
    },
    {
      name: "1,500 sign-ins of strangers, 300 at once",
      run: async () => {
        const held = await inTurns(Array.from({ length: 1500 }), 300, async () => {
          const { status } = await new Visitor(application.url).send("POST", "/api/sign-in/student", {
            classCode: own.classCode,
            name: randomUUID(),
            words: "four wrong little words",
          });
          return refused(status);
        });
        return { tried: 1500, held };
      },
    },
    {
      name: "one child's name written in 60 ways, eight guesses each; then the right card",
      run: async () => {
        const marks = ["", "\u200b", "\u0001", "\u00ad", " ", "\u2060"];
        const names = marks
          .flatMap((a) => marks.flatMap((b) => [`${a}Ada${b} Quiet`, `${a}ADA Q\u0301uiet${b}`]))
          .slice(0, 60);
        let compared = 0;
        await inTurns(
          names.flatMap((name) => Array.from({ length: 8 }, () => name)),
          20,
          async (name) => {
            const { status } = await new Visitor(application.url).send("POST", "/api/sign-in/student", {
              classCode: own.classCode,
              name,
              words: "four wrong little words",
            });
            if (status === 400) compared++;
            return true;
          },
        );
        const card = await new Visitor(application.url).send("POST", "/api/sign-in/student", {
          classCode: own.classCode,
          name: "Ada Quiet",
          words: student.words,
        });
        return {
          tried: 480,
          held: card.status === 200 ? 480 - Math.max(0, compared - 8) : 0,
          note: `${compared} compared; the right card ${card.status === 200 ? "got in" : "was locked out"}`,
        };
      },
    },
    {
      name: "takes announced, sent and completed under another player's ids",
      run: async () => {
        const bytes = silence();
        const announced = {
          id: scene.takeId,
          taskId: scene.thiefTaskId,
          bytes: bytes.length,
          sha256: createHash("sha256").update(bytes).digest("hex"),
          recordedAt: new Date().toISOString(),
        };
        const tries: [Person, string, string, unknown][] = [
          [thief.person, "POST", "/api/uploads", announced],
          [thief.person, "POST", "/api/uploads", { ...announced, id: randomUUID(), taskId: scene.taskId }],
          [thief.person, "PUT", `/api/uploads/${scene.takeId}/chunk?offset=0`, bytes],
          [thief.person, "POST", `/api/uploads/${scene.takeId}/complete`, undefined],
          [thief.person, "GET", `/api/takes/${scene.takeId}/sound`, undefined],
          [foreign.director, "GET", `/api/takes/${scene.takeId}`, undefined],
          [foreign.director, "PUT", `/api/takes/${scene.takeId}/review`, { decision: "accepted", marks: {} }],
        ];
        const held = await inTurns(tries, 1, async ([who, method, path, body]) =>
          refused((await who.send(method, path, body)).status),
        );
        return { tried: tries.length, held };
      },
    },
    {
      name: "200 uploads announced and left open by one child",
      run: async () => {
        let open = 0;
        await inTurns(Array.from({ length: 200 }), 10, async () => {
          const { status } = await thief.person.send("POST", "/api/uploads", {
            id: randomUUID(),
            taskId: scene.thiefTaskId,
            bytes: 50_000_000,
            sha256: "0".repeat(64),
            recordedAt: new Date().toISOString(),
          });
          if (status === 200) open++;
          return true;
        });
        return { tried: 200, held: 200 - Math.max(0, open - 4), note: `${open} were accepted` };
      },
    },
    {
      name: "recordings that unfold to hours (FLAC 2 h, Ogg, MP3, M4A 20 min), and noise named FLAC",
      run: async () => {
        const ids: string[] = [];
        for (const sound of sounds) ids.push(await sendTake(student.person, scene.taskId, sound));
        const states = async () =>
          (
            await student.person.json<{ history: { id: string; state: string }[] }>(
              "GET",
              `/api/tasks/${scene.taskId}`,
            )
          ).history.filter((take) => ids.includes(take.id));
        await until(async () => (await states()).every((take) => take.state !== "waiting"));
        const held = (await states()).filter((take) => take.state === "unreadable").length;
        return { tried: sounds.length, held };
      },
    },
    {
      name: "100 HEAD requests for a recording",
      run: async () => {
        const descriptors = () => readdirSync(`/proc/${application.webPid()}/fd`).length;
        const before = descriptors();
        await inTurns(Array.from({ length: 100 }), 10, async () => {
          await student.person.send("HEAD", `/api/takes/${scene.takeId}/sound`);
          return true;
        });
        const leaked = descriptors() - before;
        return {
          tried: 100,
          held: 100 - Math.max(0, leaked - 12),
          note: `${Math.max(0, leaked)} more files open`,
        };
      },
    },
    {
      name: "odd letters, fractions and methods in requests",
      run: async () => {
        const d = own.director;
        const tries: [Person, string, string, unknown?][] = [
          [d, "GET", `/api/lines/${scene.lineId}/parts/%C3%A9`],
          [d, "GET", "/api/fingerings/%F0%9F%98%80"],
          [d, "PUT", `/api/players/${student.playerId}/builds/%C3%A9`, { variant: null }],
          [d, "POST", `/api/lines/${scene.lineId}/pencil`, { eventId: "é", kind: "breath", text: "" }],
          [
            d,
            "POST",
            "/api/drills",
            { title: "x", settings: { attacks: [0.5, 1.5] }, bpm: 80, loops: 1, system: null },
          ],
          [
            new Visitor(application.url),
            "POST",
            "/api/sign-in/student",
            { classCode: "ÄÖÜ", name: "x", words: "x" },
          ],
          [d, "PATCH", "/api/lines"],
        ];
        const held = await inTurns(tries, 2, async ([who, method, path, body]) =>
          refused((await who.send(method, path, body)).status),
        );
        return { tried: tries.length, held };
      },
    },
    {
      name: "lists of 500 rows with long names, formulas and half quotes, looked at four at once",
      run: async () => {
        const cells = [
          "=1+1",
          '"',
          "a".repeat(400),
          "Player Numbre",
          "clarinet and ".repeat(30),
          "\u0000\u202e",
          ";;;;",
        ];
        const texts = cells.map(
          (cell) => `Name,Instrument,Groups\n${`${cell},${cell},${cell}\n`.repeat(500)}`,
        );
        const held = await inTurns([...texts, ...texts], 4, async (text) => {
          const { status } = await own.director.send("POST", "/api/roster/look", { text });
          return status === 200 || refused(status);
        });
        return { tried: 2 * texts.length, held };
      },
    },
    {
      name: "120 guesses at one-time codes, invitations to a band and to make one",
      run: async () => {
        const visitor = new Visitor(application.url);
        const password = "long enough to be tried";
        const tries = Array.from({ length: 40 }, (_, i) => [
          [
            "/api/account/recovered",
            { email: own.directorEmail, code: `AAAA-BBBB-${1000 + i}`, newPassword: password },
          ],
          ["/api/directors/accepted", { token: `guess${i}guessguess`, name: "x", newPassword: password }],
          [
            "/api/band",
            {
              code: `GUESS-${1000 + i}`,
              name: "x",
              classCode: `GUESS-${i}`,
              timeZone: "UTC",
              directorName: "x",
              email: `g${i}@x.example`,
              password,
            },
          ],
        ]).flat() as [string, unknown][];
        const held = await inTurns(tries, 6, async ([path, body]) =>
          refused((await visitor.send("POST", path, body)).status),
        );
        return { tried: tries.length, held };
      },
    },
    {
      name: "the shelf of 2,000 lines, never outlined before, ten at once, beside a printed set",
      prepare: () => manyLines(scene, 2000),
      run: async () => {
        const shelf = Array.from({ length: 10 }, () => own.director.send("GET", "/shelf"));
        const print = own.director.send("GET", `/shelf/print/${scene.lineId}?group=${own.groupId}`);
        const pages = await Promise.all([...shelf, print]);
        await Promise.all(pages.map((page) => page.arrayBuffer()));
        return { tried: pages.length, held: pages.filter((page) => page.ok).length };
      },
    },
  ];
}

/** Clones of one line straight into the database, as an upgraded band would have them: notes, and no outline yet. */
async function manyLines({ application, lineId }: Scene, count: number): Promise<void> {
  const connection = await createConnection(application.databaseUrl);
  const [line] = await connection.query<{ band_id: string }[]>("SELECT band_id FROM `lines` WHERE id = ?", [
    lineId,
  ]);
  const [revision] = await connection.query<{ score: unknown; content_hash: string }[]>(
    "SELECT score, content_hash FROM line_revisions WHERE line_id = ?",
    [lineId],
  );
  const score = typeof revision!.score === "string" ? revision!.score : JSON.stringify(revision!.score);
  const rows = Array.from({ length: count }, (_, i) => ({ line: randomUUID(), revision: randomUUID(), i }));
  await connection.batch(
    "INSERT INTO `lines` (id, band_id, number, title) VALUES (?, ?, ?, ?)",
    rows.map(({ line: id, i }) => [id, line!.band_id, 1 + (i % 900), `Clone ${i}`]),
  );
  await connection.batch(
    "INSERT INTO line_revisions (id, band_id, line_id, number, content_hash, score, source_name, not_understood) VALUES (?, ?, ?, 1, ?, ?, 'x', '[]')",
    rows.map(({ line: id, revision: own }) => [own, line!.band_id, id, revision!.content_hash, score]),
  );
  await connection.end();
}

function memoryMb(pid: number): number {
  return Math.round(
    Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1] ?? 0) / 1024,
  );
}

/** Runs every attack against a server of its own, and prints what was tried, what held, and what a bystander waited. */
async function main(): Promise<void> {
  const scene = await setScene();
  const { application, own, student } = scene;
  const bystanders = {
    base: application.url,
    people: [
      { cookie: own.director.cookie(), path: "/week" },
      { cookie: student.person.cookie(), path: "/stand" },
    ],
  };
  let open = 0;
  try {
    console.log(
      "| attack | tried | held | bystander p95 | worst | server memory |\n| --- | --- | --- | --- | --- | --- |",
    );
    const rest = await beside(bystanders, () => new Promise((resolve) => setTimeout(resolve, 4000)));
    console.log(
      `| nothing, for comparison | | | ${rest.p95Ms} ms | ${rest.worstMs} ms | ${memoryMb(application.webPid())} MB |`,
    );
    for (const { name, prepare, run } of attacks(scene)) {
      await prepare?.();
      let outcome: Awaited<ReturnType<Attack["run"]>> = { tried: 0, held: 0, note: "did not run" };
      const waits = await beside(bystanders, async () => {
        outcome = await run();
      });
      const held = outcome.held === outcome.tried ? "all" : `${outcome.held}`;
      if (outcome.held < outcome.tried || waits.failed > 0) open++;
      const remark = [outcome.note, waits.failed > 0 ? `${waits.failed} of ${waits.asked} pages failed` : ""]
        .filter(Boolean)
        .join("; ");
      console.log(
        `| ${name}${remark ? ` (${remark})` : ""} | ${outcome.tried} | ${held} | ${waits.p95Ms} ms | ${waits.worstMs} ms | ${memoryMb(application.webPid())} MB |`,
      );
    }
  } finally {
    await application.close();
  }
  console.log(open === 0 ? "\nEverything held." : `\n${open} did not hold.`);
}

await main();
