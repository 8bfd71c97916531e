import { cpus } from "node:os";
import { benchAssessment } from "./assessment";
import { benchCombined } from "./combined";
import { benchDesk, benchLargeQueue } from "./desk";
import { benchDrag } from "./drag";
import { benchHearing } from "./hearing";
import { benchContent, benchFolder } from "./inbox";
import { benchListening, benchStatus } from "./listening";
import { benchMarks } from "./marks";
import { benchBigBand, benchBigShelf, benchIslands, benchPages } from "./pages";
import { benchPractice } from "./practice";
import { benchPreparation } from "./preparation";
import { benchRhythm } from "./rhythm";
import { benchRoom } from "./room";
import { benchEngraving, benchShelf } from "./shelf";
import type { Row } from "./statistics";
import { benchNoLine, benchReference } from "./status";
import { benchStrokes } from "./strokes";
import { benchDraft, benchTerm } from "./week";

/** Groups of measures in the order they run: what changes the demo band comes last. */
const GROUPS: Record<string, (base: string) => Promise<Row[]>> = {
  assessment: async () => benchAssessment(),
  shelf: async () => [...benchShelf(), ...(await benchEngraving())],
  week: async () => [...benchDraft(), ...benchTerm()],
  preparation: benchPreparation,
  listening: async () => [...benchListening(), ...benchStatus()],
  hearing: benchHearing,
  combined: benchCombined,
  marks: benchMarks,
  rhythm: benchRhythm,
  strokes: benchStrokes,
  reference: async () => [...(await benchNoLine()), ...(await benchReference())],
  pages: async (base) => [
    ...(await benchPages(base)),
    ...(await benchIslands(base)),
    ...(await benchDrag(base)),
  ],
  practice: benchPractice,
  room: benchRoom,
  desk: benchDesk,
  inbox: async (base) => [...benchContent(), ...(await benchFolder(base))],
  large: async (base) => [
    ...(await benchBigShelf(base)),
    ...(await benchBigBand(base)),
    ...(await benchLargeQueue(base)),
  ],
  queue: benchLargeQueue,
};

/** Prints measures as a Markdown table, ready for docs/measured.md: every group, or those that are named. */
const [base, ...named] = process.argv.slice(2) as [string, ...string[]];
const unknown = named.filter((name) => !(name in GROUPS));
if (unknown.length > 0) {
  console.error(`There is no group ${unknown.join(", ")}. There are: ${Object.keys(GROUPS).join(", ")}.`);
  process.exit(2);
}
console.log(
  `\nMeasured on ${cpus().length} cores (${cpus()[0]?.model ?? "unknown"}), Node ${process.version}\n`,
);
console.log("| measure | median | p95 or spread | against |\n|---|---|---|---|");
for (const [name, measure] of Object.entries(GROUPS)) {
  // A large queue is part of the large group.
  if (named.length > 0 ? !named.includes(name) : name === "queue") continue;
  for (const row of await measure(base)) console.log(`| ${row.join(" | ")} |`);
}
