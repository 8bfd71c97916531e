import { parentPort } from "node:worker_threads";
import { INSTRUMENTS, type Stage } from "../core/music";
import {
  acceptScore,
  concertPart,
  demandsAtGlance,
  derivePart,
  difficultyOf,
  forNamedInstruments,
  glanceAt,
  knownAtStage,
  OUTLINE_VERSION,
  outlineOf,
  readScore,
  type Score,
  ScoreReadError,
  snagsOf,
  withUses,
  writeMusicXml,
} from "../core/score";
import type { StoredOutline } from "../data";
import type { ScoreAnswer, ScoreRequest } from "../server/scores";

parentPort!.on("message", (request: ScoreRequest) => {
  try {
    parentPort!.postMessage({ answer: answerTo(request) });
  } catch (error) {
    if (error instanceof ScoreReadError || error instanceof RangeError)
      parentPort!.postMessage({ answer: { kind: "refused", reason: error.message } satisfies ScoreAnswer });
    else parentPort!.postMessage({ problem: (error as Error).message });
  }
});

function answerTo(request: ScoreRequest): ScoreAnswer {
  if (request.kind === "read" || request.kind === "draft") {
    const sorted = request.kind === "read" ? request.sorted : undefined;
    const read = readScore(request.bytes, sorted?.chords ? { chords: sorted.chords } : {});
    // What a score is for is said by the bench when it makes one, never by a file.
    const { purpose: _purpose, ...plain } = read.score;
    const score = withUses(forNamedInstruments(plain), new Map(sorted?.uses ?? []));
    const reading = { ...read, score };
    if (request.kind === "read") return { kind: "read", reading, outline: prove(score) };
    acceptScore(score);
    return { kind: "draft", reading };
  }
  if (request.kind === "prove") return { kind: "prove", outline: prove(request.score) };
  return {
    kind: "outlines",
    outlines: request.texts.map(({ id, text }) => ({ id, outline: outlineOrReason(text) })),
  };
}

const STAGES: Stage[] = ["five-notes", "widening"];

/** Checks every limit, then computes once what pages compute of a line, for every instrument. */
function prove(score: Score): StoredOutline {
  const stored = outlined(score);
  for (const part of score.parts) writeMusicXml(concertPart(score, part.id));
  if (score.catalogued) return stored;
  // A part that is as written is the same for everybody.
  for (const instrument of score.parts[0].asWritten ? INSTRUMENTS.slice(0, 1) : INSTRUMENTS) {
    const { score: part } = derivePart(score, instrument, "widening");
    snagsOf(part, instrument, "widening");
    difficultyOf(part, instrument, "widening");
    writeMusicXml(part);
  }
  return stored;
}

/** Checks every limit, and computes what the shelf shows and asks. */
function outlined(score: Score): StoredOutline {
  acceptScore(score);
  const glance = glanceAt(score);
  for (const instrument of INSTRUMENTS)
    for (const stage of STAGES) demandsAtGlance(glance, instrument, stage, knownAtStage(instrument, stage));
  return {
    version: OUTLINE_VERSION,
    outline: outlineOf(score),
    glance,
    barNumbers: score.parts[0].measures.map((measure) => measure.number),
  };
}

function outlineOrReason(text: string): StoredOutline {
  try {
    return outlined(JSON.parse(text) as Score);
  } catch (error) {
    return { version: OUTLINE_VERSION, broken: (error as Error).message };
  }
}
