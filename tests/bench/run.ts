import { cpus } from "node:os";
import { benchAssessment } from "./assessment";
import { benchDrag } from "./drag";
import { benchHearing } from "./hearing";
import { benchListening, benchStatus } from "./listening";
import { benchBigBand, benchBigShelf, benchIslands, benchPages } from "./pages";
import { benchPractice } from "./practice";
import { benchPreparation } from "./preparation";
import { benchRhythm } from "./rhythm";
import { benchEngraving, benchShelf } from "./shelf";
import { benchNoLine, benchReference } from "./status";
import { benchDraft, benchTerm } from "./week";

/** Prints every measure as a Markdown table, ready for docs/measured.md. */
const base = process.argv[2]!;
console.log(
  `\nMeasured on ${cpus().length} cores (${cpus()[0]?.model ?? "unknown"}), Node ${process.version}\n`,
);
console.log("| measure | median | p95 or spread | against |\n|---|---|---|---|");
for (const row of [
  ...benchAssessment(),
  ...benchShelf(),
  ...benchDraft(),
  ...benchTerm(),
  ...(await benchEngraving()),
  ...(await benchPreparation()),
  ...benchListening(),
  ...benchStatus(),
  ...(await benchHearing()),
  ...(await benchRhythm()),
  ...(await benchNoLine()),
  ...(await benchReference()),
  ...(await benchPages(base)),
  ...(await benchIslands(base)),
  ...(await benchDrag(base)),
  ...(await benchPractice(base)),
  ...(await benchBigShelf(base)),
  ...(await benchBigBand(base)),
])
  console.log(`| ${row.join(" | ")} |`);
