import { v7 as uuid } from "uuid";
import { writeWav } from "../src/core/audio";
import { type BookLine, bookScore } from "../src/core/book";
import { addDays } from "../src/core/calendar";
import { instrumentById } from "../src/core/music";
import type { Weekday } from "../src/core/plan";
import { plainSounds, playAlong, renderPlan } from "../src/core/playalong";
import { derivePart, timeline } from "../src/core/score";
import type { Director } from "../src/services/actor";
import { addHandout, savePiece } from "../src/services/pieces";
import { giveWeek, ribbonView, savePlan, setClash } from "../src/services/week";

const RATE = 22_050;

export interface Pieces {
  overture: string;
  parade: string;
}

/** Two pieces for the concert: one with parts on the shelf, one of which only title and bars are known. */
export async function makePieces(director: Director, overtureLineId: string, bars: number): Promise<Pieces> {
  const [overture, parade] = [uuid(), uuid()];
  const half = Math.floor(bars / 2);
  await savePiece(director, overture, {
    version: null,
    title: "Net Menders, for the concert",
    composer: "",
    bars,
    bpm: 84,
    lineId: overtureLineId,
    passages: [
      { name: "first half", firstBar: 1, lastBar: half, state: "rehearsed" },
      { name: "second half", firstBar: half + 1, lastBar: bars, state: "sight-read" },
    ],
  });
  await savePiece(director, parade, {
    version: null,
    title: "Lantern Parade",
    composer: "from the cupboard",
    bars: 56,
    bpm: 100,
    lineId: null,
    passages: [
      { name: "introduction", firstBar: 1, lastBar: 8, state: "ready" },
      { name: "A", firstBar: 9, lastBar: 24, state: "rehearsed" },
      { name: "trio", firstBar: 25, lastBar: 40, state: "sight-read" },
      { name: "last time", firstBar: 41, lastBar: 56, state: "unseen" },
    ],
  });
  return { overture, parade };
}

/** A worksheet and something to listen to on the days of the reeds at home, and a choir at the time of a class. */
export async function sheetsAndListening(
  director: Director,
  groupId: string,
  line: BookLine,
  now: string,
): Promise<void> {
  const { id: sheet } = await addHandout(director, "worksheet", "Rests that feel long", writtenSheet());
  const { id: song } = await addHandout(director, "listening", `${line.title}, for the ear`, played(line));
  const { cells, groups } = await ribbonView(director, now, 2);
  const days = cells
    .filter((cell) => cell.groupId === groupId && cell.where === "home" && cell.date >= now)
    .map(({ date }) => date);
  const items = [
    {
      kind: "worksheet" as const,
      refId: sheet,
      title: "Rests that feel long",
      minutes: 5,
      date: days[0] ?? now,
    },
    {
      kind: "listening" as const,
      refId: song,
      title: `${line.title}, for the ear`,
      minutes: 3,
      date: days[0] ?? now,
    },
    {
      kind: "cards" as const,
      refId: null,
      title: "Note names, two minutes",
      minutes: 2,
      date: days[1] ?? addDays(now, 1),
    },
  ].map((item, place) => ({
    ...item,
    id: uuid(),
    groupId,
    where: "home" as const,
    forWhom: { kind: "everyone" as const },
    place: 100 + place,
    firstBar: null,
    lastBar: null,
    note: "",
    reason: null,
  }));
  await savePlan(director, {
    since: 0,
    changes: items.map((strip) => ({ id: strip.id, basis: null, strip })),
  });
  await giveWeek(director, { stripIds: items.map(({ id }) => id) });
  const singer = groups.find(({ id }) => id === groupId)?.members.at(-1);
  const wednesday: Weekday = 3;
  if (singer)
    await setClash(director, {
      groupId,
      playerId: singer.id,
      weekday: wednesday,
      reason: "choir",
      clash: true,
    });
}

function played(line: BookLine): Uint8Array {
  const score = derivePart(bookScore(line), instrumentById("clarinet"), "widening").score;
  const samples = renderPlan(playAlong(timeline(score)), {
    mix: { count: false, click: false, reference: true },
    bank: plainSounds(),
    sampleRate: RATE,
  });
  return writeWav({ samples, sampleRate: RATE });
}

/** A page of print as a PDF file: one page, one typeface, a few lines. */
function writtenSheet(): Uint8Array {
  const lines = [
    "Rests that feel long",
    "",
    "1. Write the counting under each bar; put the rests in brackets.",
    "2. Clap it twice. Breathe in on the last rest, not before.",
    "3. Draw a rest wherever you came in too early.",
  ];
  const text = ["BT /F 14 Tf 60 760 Td 22 TL", ...lines.map((each) => `(${each}) Tj T*`), "ET"].join("\n");
  const objects = [
    "<< /Type /Catalog /Pages 2 0 R >>",
    "<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
    "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 5 0 R /Resources << /Font << /F 4 0 R >> >> >>",
    "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>",
    `<< /Length ${text.length} >>\nstream\n${text}\nendstream`,
  ];
  let file = "%PDF-1.4\n";
  const at = objects.map((object, i) => {
    const start = file.length;
    file += `${i + 1} 0 obj\n${object}\nendobj\n`;
    return start;
  });
  const table = file.length;
  file += `xref\n0 ${objects.length + 1}\n0000000000 65535 f \n`;
  file += at.map((start) => `${String(start).padStart(10, "0")} 00000 n \n`).join("");
  file += `trailer\n<< /Size ${objects.length + 1} /Root 1 0 R >>\nstartxref\n${table}\n%%EOF\n`;
  return new TextEncoder().encode(file);
}
