import { assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { seededRandom } from "../../src/core/rhythm";
import { derivePart, timeline } from "../../src/core/score";
import { breakOf, combination, heardIn, TRAITS } from "../support/combined";
import { CAREFUL, type Playing, perform } from "../support/performer";
import { randomLine } from "../support/random-line";
import type { Bank } from "../support/sounds";
import { SOURCES } from "./hearing";
import { Tally } from "./hearing-tally";
import type { Outcome } from "./outcome";
import type { Row } from "./statistics";

/**
 * Takes a sound; the first two seeds are looked into and numbers set on them, and since 1.13 the third as well (in 1.12 only words about
 * single notes of it); of the last only the sum is ever read.
 */
const TAKES_EACH = Number(process.env.TAKES_EACH ?? 6);
const SEEDS = { "looked into": 0, "set on": 100, "in part": 50_000, "sum only": 150_000 };

/** One beginner's take: several traits, a room, something beside it, a device, all at once. */
async function combinedTake(bank: Bank, place: number, seed: number) {
  const source = SOURCES[place]!;
  const instrument = instrumentById(source.instrument);
  const { score, bpm } = randomLine(seed);
  const part = derivePart(score, instrument, "widening").score;
  const notes = timeline(part).notes.length;
  const { traits, room, around, device, random } = combination(seed, instrument.family === "mallets");
  const playing: Playing = {
    ...CAREFUL,
    wrong: 0.06,
    missed: 0.04,
    tempo: 0.75 + 0.4 * random(),
    tuningCents: -12 + 24 * random(),
    ...Object.assign({}, ...traits.map((trait) => TRAITS[trait]!(random))),
    ...breakOf(random, notes),
    seed,
  };
  const played = perform(part, bank, bpm, instrument, playing);
  const scene = { take: played, part, instrument, bank, askedBpm: bpm, seed };
  const pcm = await heardIn(scene, { room, around, device });
  return {
    source: source.name,
    heldOut: source.heldOut,
    condition: [room, around, device].join(", "),
    way: traits.join(", "),
    seed,
    take: played,
    part,
    delaySec: 0,
    notes,
    soundSec: pcm.samples.length / pcm.sampleRate,
    pcm,
    options: { bpm, instrumentId: source.instrument },
  };
}

type CombinedTake = Awaited<ReturnType<typeof combinedTake>>;

function heardOutcome({ options, ...take }: CombinedTake): Outcome {
  const before = performance.now();
  const result = assess(take.part, take.pcm, options);
  return { ...take, result, ms: performance.now() - before };
}

/** Sounds whose bank can be had and that a beginner plays; every other one, so that both fonts and recordings are among them. */
const PLACES = SOURCES.flatMap((source, place) => (source.heldOut ? [] : [place]));

/**
 * Takes as they come from real rooms: traits, room, surroundings and device combined. TELL=1 names every mistake of the seeds that are looked
 * into on standard error; ONLY=text keeps to sounds whose name has it, SEED=text to seeds whose name begins with it.
 */
export async function benchCombined(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const [label, base] of Object.entries(SEEDS)) {
    if (process.env.SEED && !label.startsWith(process.env.SEED)) continue;
    const tallies = new Map<string, Tally>();
    const tallyOf = (name: string) => tallies.get(name) ?? tallies.set(name, new Tally()).get(name)!;
    for (const place of PLACES) {
      const source = SOURCES[place]!;
      if (process.env.ONLY && !source.name.includes(process.env.ONLY)) continue;
      const bank = await source.load();
      for (let i = 0; i < TAKES_EACH; i++) {
        const outcome = heardOutcome(await combinedTake(bank, place, base + 1000 * (place + 1) + i));
        const where = `${outcome.source}/${outcome.condition}/${outcome.way}/${outcome.seed}`;
        const looked = label !== "sum only";
        const tell =
          process.env.TELL && looked ? (text: string) => console.error(`${where}: ${text}`) : undefined;
        tallyOf("all").add(outcome, tell);
        if (!looked) continue;
        tallyOf(`sound: ${outcome.source}`).add(outcome);
        for (const each of outcome.condition.split(", ")) tallyOf(`condition: ${each}`).add(outcome);
        for (const each of outcome.way.split(", ")) tallyOf(`trait: ${each || "none"}`).add(outcome);
      }
    }
    if (tallies.size === 0) continue;
    const byWorst = [...tallies].sort(([a, x], [b, y]) =>
      a.split(":")[0] === b.split(":")[0] ? x.f1 - y.f1 : a < b ? -1 : 1,
    );
    rows.push(...byWorst.map(([name, tally]): Row => [`combined, ${label}, ${name}`, ...tally.cells()]));
    for (const verdict of ["ok", "wrong-pitch", "missed"])
      rows.push([
        `combined, ${label}, confidence of "${verdict}"`,
        tallies.get("all")!.reliability(verdict),
        "share that was right",
        "–",
      ]);
  }
  return [...rows, ...(await benchPartial())];
}

/**
 * A child plays part of a line, three quarters of it right, and stops or begins again: is it known as the line? And the same against
 * another line.
 */
async function benchPartial(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const [label, base] of Object.entries(SEEDS)) {
    if (process.env.SEED && !label.startsWith(process.env.SEED)) continue;
    const counts = { takes: 0, known: 0, other: 0, refused: 0 };
    for (const place of PLACES) {
      const source = SOURCES[place]!;
      if (process.env.ONLY && !source.name.includes(process.env.ONLY)) continue;
      const bank = await source.load();
      const instrument = instrumentById(source.instrument);
      for (let i = 0; i < TAKES_EACH; i++) {
        const seed = base + 900_000 + 100 * place + i;
        const { score, bpm } = randomLine(seed);
        const part = derivePart(score, instrument, "widening").score;
        const notes = timeline(part).notes.length;
        const random = seededRandom(seed);
        const { room, around, device } = combination(seed);
        const share = 0.35 + 0.3 * random();
        const at = Math.max(9, Math.floor(notes * share));
        const played = perform(part, bank, bpm, instrument, {
          ...CAREFUL,
          wrong: 0.2,
          missed: 0.05,
          tempo: 0.65 + 0.4 * random(),
          unsteadySec: 0.025,
          wanderCents: 15,
          ...(i % 2
            ? { stopAfter: at }
            : { restartAfter: Math.max(5, at - 4), restartFrom: 0, stopAfter: at }),
          seed,
        });
        const scene = { take: played, part, instrument, bank, askedBpm: bpm, seed };
        const pcm = await heardIn(scene, { room, around, device });
        const options = { bpm, instrumentId: source.instrument };
        const status = assess(part, pcm, options).take.status;
        counts.takes++;
        counts.known += Number(status === "assessed");
        if (process.env.TELL && base === 0 && status !== "assessed")
          console.error(
            `partial ${source.name}/${seed}/${room}/${around}/${device}: ${status}, ${at} of ${notes} notes`,
          );
        const foreign = derivePart(randomLine(seed + 37).score, instrument, "widening").score;
        const other = assess(foreign, pcm, options).take.status;
        counts.other++;
        counts.refused += Number(other !== "assessed");
        if (process.env.TELL && base === 0 && other === "assessed")
          console.error(`other piece taken: ${source.name}/${seed}/${room}/${around}/${device}`);
      }
    }
    rows.push([
      `partial takes, ${label}`,
      `known ${counts.known} of ${counts.takes}`,
      `another line refused ${counts.refused} of ${counts.other}`,
      "–",
    ]);
  }
  return rows;
}
