import { parentPort } from "node:worker_threads";
import { INSTRUMENTS, type Stage } from "../core/music";
import {
  acceptScore,
  concertPart,
  demandsAtGlance,
  derivePart,
  difficultyOf,
  glanceAt,
  knownAtStage,
  OUTLINE_VERSION,
  outlineOf,
  readScore,
  type Score,
  ScoreReadError,
  snagsOf,
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
    const read = readScore(request.bytes);
    // What a score is for is said by the bench when it makes one, never by a file.
    const { purpose: _purpose, ...score } = read.score;
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

/** Checks every limit, then computes once what pages compute of a line, for every instrument. */
function prove(score: Score): StoredOutline {
  acceptScore(score);
  const stored = {
    version: OUTLINE_VERSION,
    outline: outlineOf(score),
    glance: glanceAt(score),
    barNumbers: score.parts[0].measures.map((measure) => measure.number),
  };
  const stages: Stage[] = ["five-notes", "widening"];
  for (const part of score.parts) writeMusicXml(concertPart(score, part.id));
  // A part that is as written is the same for everybody.
  const instruments = score.parts[0].asWritten ? INSTRUMENTS.slice(0, 1) : INSTRUMENTS;
  for (const instrument of instruments)
    for (const stage of stages) {
      const { score: part } = derivePart(score, instrument, stage);
      demandsAtGlance(stored.glance, instrument, stage, knownAtStage(instrument, stage));
      if (stage !== "widening" || score.catalogued) continue;
      snagsOf(part, instrument, stage);
      difficultyOf(part, instrument, stage);
      writeMusicXml(part);
    }
  return stored;
}

function outlineOrReason(text: string): StoredOutline {
  try {
    return prove(JSON.parse(text) as Score);
  } catch (error) {
    return { version: OUTLINE_VERSION, broken: (error as Error).message };
  }
}
