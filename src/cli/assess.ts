import { readFile, stat } from "node:fs/promises";
import { AudioReadError } from "../core/audio";
import { type AssessOptions, assess, type Mode } from "../core/listen";
import { instrumentNamed } from "../core/music";
import { acceptScore, FASTEST_BPM, readMusicXml, ScoreReadError, SLOWEST_BPM } from "../core/score";
import { decodeSound } from "../server/decode";

type Refuse = (sentence: string) => never;
const LARGEST_AUDIO = 500_000_000;

/** `ulu assess`: one JSON object on standard output, whatever the take is like; unreadable input is refused. */
export async function assessCommand(
  given: Record<string, string | boolean | undefined>,
  refuse: Refuse,
): Promise<void> {
  const { score: scoreFile, audio: audioFile } = given as { score?: string; audio?: string };
  if (!scoreFile || !audioFile) return refuse("Both --score FILE and --audio FILE are needed.");
  const mode = given.mode as string | undefined;
  if (mode !== undefined && !["melody", "rhythm", "longtone"].includes(mode))
    return refuse("--mode is melody, rhythm or longtone.");
  const bpm = given.tempo === undefined ? undefined : Number(given.tempo);
  if (bpm !== undefined && !(bpm >= SLOWEST_BPM && bpm <= FASTEST_BPM))
    return refuse(`--tempo is a number from ${SLOWEST_BPM} to ${FASTEST_BPM}.`);
  try {
    const { score } = readMusicXml(await readInput(scoreFile, refuse));
    acceptScore(score);
    const pcm = await decodeSound(await readInput(audioFile, refuse));
    const { name, soundsBy } = score.parts[0];
    const instrumentId = instrumentNamed(name, soundsBy.semitones)?.id;
    const settings: AssessOptions = {
      ...(mode ? { mode: mode as Mode } : {}),
      ...(bpm ? { bpm } : {}),
      ...(given["no-repeats"] ? { withoutRepeats: true } : {}),
      ...(instrumentId ? { instrumentId } : {}),
    };
    const start = performance.now();
    const { take, ...rest } = assess(score, pcm, settings);
    const analysisMs = Math.round(performance.now() - start);
    process.stdout.write(`${JSON.stringify({ ...rest, take: { ...take, analysisMs } })}\n`);
  } catch (error) {
    if (error instanceof ScoreReadError) return refuse(`${scoreFile}: ${error.message}`);
    if (error instanceof AudioReadError) return refuse(`${audioFile}: ${error.message}`);
    throw error;
  }
}

async function readInput(file: string, refuse: Refuse): Promise<Uint8Array> {
  try {
    if ((await stat(file)).size > LARGEST_AUDIO) return refuse(`${file} is larger than 500 MB.`);
    return await readFile(file);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code)
      return refuse(
        `${file} cannot be opened (${(error as NodeJS.ErrnoException).code === "ENOENT" ? "there is no such file" : (error as NodeJS.ErrnoException).code}).`,
      );
    throw error;
  }
}
