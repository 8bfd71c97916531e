import { assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { seededRandom } from "../../src/core/rhythm";
import { derivePart, timeline } from "../../src/core/score";
import { CONDITIONS } from "../support/conditions";
import { CAREFUL, type Playing, perform } from "../support/performer";
import { randomLine } from "../support/random-line";
import { type Bank, loadBank, renderBank } from "../support/sounds";
import { Tally } from "./hearing-tally";
import { notesByAubio, pitchesByLibrary, ToolTally } from "./other-tools";
import type { Outcome } from "./outcome";
import type { Row } from "./statistics";

/** Where the sounds come from; what is held out is looked at only as a whole, never to set a number in the engine. */
export interface Source {
  name: string;
  instrument: string;
  heldOut: boolean;
  load: () => Promise<Bank> | Bank;
}
const recorded = (bank: string, instrument: string, heldOut = false): Source => ({
  name: `${bank}, recorded`,
  instrument,
  heldOut,
  load: () => loadBank(bank),
});
const midi = (
  font: "small" | "large",
  program: number,
  instrument: string,
  reach: [number, number],
  heldOut = font === "large",
): Source => ({
  name: `${instrument}, ${font} font`,
  instrument,
  heldOut,
  load: () => renderBank(font, program, reach),
});
/** All there is to listen to; the seeds of a source's takes hang on its place. */
export const SOURCES: Source[] = [
  recorded("flute", "flute"),
  recorded("clarinet", "clarinet"),
  recorded("trumpet", "trumpet"),
  recorded("trombone", "trombone"),
  recorded("tuba", "tuba"),
  recorded("xylophone", "xylophone"),
  recorded("saxophone", "sax-alto", true),
  recorded("french-horn", "horn", true),
  recorded("bassoon", "bassoon", true),
  midi("small", 73, "flute", [58, 98]),
  midi("small", 68, "oboe", [56, 90]),
  midi("small", 71, "clarinet", [48, 92]),
  midi("small", 66, "sax-tenor", [42, 80]),
  midi("small", 67, "sax-bari", [34, 74]),
  midi("small", 56, "trumpet", [50, 88]),
  midi("small", 60, "horn", [38, 80], true),
  midi("small", 57, "trombone", [36, 76]),
  midi("small", 58, "tuba", [24, 64]),
  midi("small", 9, "bells", [72, 110]),
  midi("small", 70, "bassoon", [32, 76], true),
  midi("large", 68, "oboe", [56, 90]),
  midi("large", 71, "clarinet-bass", [36, 76]),
  midi("large", 65, "sax-alto", [46, 86]),
  midi("large", 56, "trumpet", [50, 88]),
  midi("large", 57, "euphonium", [36, 76]),
  midi("large", 58, "tuba", [24, 64]),
  midi("large", 73, "flute", [58, 98]),
  midi("large", 9, "bells", [72, 110]),
  midi("large", 71, "clarinet", [48, 92]),
];

/** Ways of playing; each take has one. */
const WAYS: Record<string, (random: () => number, notes: number) => Partial<Playing>> = {
  plain: () => ({}),
  "unsteady tempo": (random) => ({
    driftPercent: random() < 0.5 ? -12 : 12,
    tempo: 0.65 + 0.75 * random(),
    unsteadySec: 0.022,
    misplaced: 0.06,
  }),
  "stops and restarts": (random, notes) => {
    const roll = random();
    const at = Math.floor(notes * (0.4 + 0.35 * random()));
    if (roll < 0.33) return { pauseAfter: at };
    if (roll < 0.66) return { restartAfter: at, restartFrom: 0 };
    return { stopAfter: at };
  },
  "rough joints": () => ({
    reTongued: 0.3,
    breaths: 0.2,
    clipped: 0.08,
    overlong: 0.3,
    doubled: 0.04,
    cracked: 0.06,
    gapSec: 0.03,
  }),
  "wavering tone": (random) => ({
    vibratoCents: random() < 0.5 ? 25 : 0,
    wanderCents: 14,
    scoopCents: random() < 0.5 ? 60 : 0,
    unevenDb: 2.5,
    tuningCents: random() < 0.5 ? 30 : -30,
    squeaks: 0.02,
  }),
  "no tongue at all": () => ({ legato: true, gapSec: 0.02 }),
};
const BASE: Partial<Playing> = { wrong: 0.07, missed: 0.04 };

/** One take: a random line, a way of playing, a condition; all fixed by the seed. */
async function* outcomes(chosen: readonly Source[], takesEach: number): AsyncGenerator<Outcome> {
  for (const source of chosen) {
    const bank = await source.load();
    const instrument = instrumentById(source.instrument);
    for (const [place, condition] of Object.keys(CONDITIONS).entries()) {
      for (let take = 0; take < takesEach * (condition === "clean" ? 3 : 1); take++) {
        const seed = 37 * place + take + 1;
        const ways = Object.keys(WAYS);
        const way = ways[(seed + SOURCES.indexOf(source)) % ways.length]!;
        const random = seededRandom(1000 * SOURCES.indexOf(source) + seed);
        const { score, bpm } = randomLine(seed + 100 * SOURCES.indexOf(source));
        const part = derivePart(score, instrument, "widening").score;
        const count = timeline(part).notes.length;
        const playing: Playing = {
          ...CAREFUL,
          ...BASE,
          tempo: 0.75 + 0.4 * random(),
          tuningCents: -12 + 24 * random(),
          ...WAYS[way]!(random, count),
          seed,
        };
        const played = perform(part, bank, bpm, instrument, playing);
        const heard = await CONDITIONS[condition]!({
          take: played,
          part,
          instrument,
          bank,
          askedBpm: bpm,
          seed,
        });
        const before = performance.now();
        const result = assess(part, heard.pcm, { bpm, instrumentId: source.instrument });
        yield {
          source: source.name,
          heldOut: source.heldOut,
          condition,
          way,
          seed,
          result,
          take: played,
          part,
          delaySec: heard.delaySec,
          notes: count,
          ms: performance.now() - before,
          soundSec: heard.pcm.samples.length / heard.pcm.sampleRate,
          pcm: heard.pcm,
        };
      }
    }
  }
}

/** Takes a condition for every source; three times as many without any. */
const TAKES_EACH = Number(process.env.TAKES_EACH ?? 1);

/**
 * Errors found in performances put together from single notes, by sound source, condition and way of playing, worst first;
 * what is held out is told apart. TELL=1 names every mistake of the engine on standard error; ONLY=text keeps to sounds whose name has
 * it.
 */
export async function benchHearing(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const heldOut of [false, true]) {
    const tallies = new Map<string, Tally>();
    const others = { "onset and note program": new ToolTally(), "pitch library": new ToolTally() };
    const tallyOf = (name: string) => tallies.get(name) ?? tallies.set(name, new Tally()).get(name)!;
    for await (const outcome of outcomes(
      SOURCES.filter((source) => source.heldOut === heldOut && source.name.includes(process.env.ONLY ?? "")),
      TAKES_EACH,
    )) {
      const where = `${outcome.source}/${outcome.condition}/${outcome.way}/${outcome.seed}`;
      const tell = process.env.TELL ? (text: string) => console.error(`${where}: ${text}`) : undefined;
      tallyOf("all").add(outcome, tell);
      tallyOf(`sound: ${outcome.source}`).add(outcome);
      tallyOf(`condition: ${outcome.condition}`).add(outcome);
      tallyOf(`playing: ${outcome.way}`).add(outcome);
      if (outcome.condition === "clean" || outcome.condition === "noise 20 dB below") {
        others["onset and note program"].add(outcome, notesByAubio(outcome));
        others["pitch library"].add(outcome, pitchesByLibrary(outcome));
        tallyOf("clean and noise 20 dB below, as the other tools were given").add(outcome);
      }
    }
    if (tallies.size === 0) continue;
    const label = heldOut ? "held out" : "tuned on";
    const byWorst = [...tallies].sort(([a, x], [b, y]) =>
      a.split(":")[0] === b.split(":")[0] ? x.f1 - y.f1 : a < b ? -1 : 1,
    );
    rows.push(...byWorst.map(([name, tally]): Row => [`${label}, ${name}`, ...tally.cells()]));
    rows.push(
      ...Object.entries(others).map(
        ([name, tally]): Row => [`${label}, ${name} with the true times given`, ...tally.cells()],
      ),
    );
    for (const verdict of ["ok", "wrong-pitch", "missed"])
      rows.push([
        `${label}, confidence of "${verdict}"`,
        tallies.get("all")!.reliability(verdict),
        "share that was right",
        "–",
      ]);
  }
  return rows;
}
