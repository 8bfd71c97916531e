import { assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { seededRandom } from "../../src/core/rhythm";
import { type Articulation, derivePart, type Score } from "../../src/core/score";
import { combination, heardIn } from "../support/combined";
import { CAREFUL, perform } from "../support/performer";
import { randomLine } from "../support/random-line";
import { SOURCES } from "./hearing";
import { f1 } from "./hearing-tally";
import type { Row } from "./statistics";

/** Takes a sound; numbers are set on the first seed, of the second only the sum is read. */
const TAKES_EACH = 6;
const SEEDS = { "looked into": 2_000, "sum only": 70_000 };

/** A line with signs: a stretch of staccato, and accents here and there. */
function marked(score: Score, random: () => number): Score {
  const [first, ...others] = score.parts;
  const bars = first.measures.length;
  const from = 1 + Math.floor((bars - 4) * random());
  const measures = first.measures.map((measure, bar) => ({
    ...measure,
    events: measure.events.map((event) => {
      if (event.kind === "rest" || event.tieStart || event.tieStop) return event;
      const signs: Articulation[] = [];
      if (bar >= from && bar < from + 3) signs.push("staccato");
      else if (random() < 0.25) signs.push("accent");
      return signs.length > 0 ? { ...event, articulations: signs } : event;
    }),
  }));
  return { ...score, parts: [{ ...first, measures }, ...others] };
}

class Words {
  counts: [number, number, number] = [0, 0, 0];
  silent = 0;
  /** @param said  null where nothing is said */
  add(truth: boolean, said: boolean | null): void {
    if (said === null) this.silent++;
    else if (truth && said) this.counts[0]++;
    else if (said) this.counts[1]++;
    else if (truth) this.counts[2]++;
  }
  get cell(): string {
    const [right, wrong, overlooked] = this.counts;
    return `F1 ${f1(this.counts).toFixed(2)}: ${right} right, ${wrong} wrong, ${overlooked} overlooked, silent ${this.silent}`;
  }
}

/**
 * Lines with accents and staccato, played with them and without, by steady and by uneven players, in rooms and through devices: what is said of
 * each kind of sign. TELL=1 prints what was measured in each take.
 */
export async function benchMarks(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const [label, base] of Object.entries(SEEDS)) {
    const words = { unheard: new Words(), heard: new Words(), long: new Words(), slower: new Words() };
    let takes = 0;
    for (const [place, source] of SOURCES.entries()) {
      const instrument = instrumentById(source.instrument);
      if (source.heldOut || instrument.family === "mallets") continue;
      const bank = await source.load();
      for (let i = 0; i < TAKES_EACH; i++) {
        const seed = base + 100 * place + i;
        const random = seededRandom(seed);
        const { score, bpm } = randomLine(seed);
        const part = derivePart(marked(score, random), instrument, "widening").score;
        const { room, around, device } = combination(seed);
        const accentDb = random() < 0.5 ? 0 : 4 + 3 * random();
        const staccatoShare = random() < 0.5 ? 0.92 : 0.4 + 0.15 * random();
        const staccatoSlower = random() < 0.5 ? 0 : 0.1 + 0.1 * random();
        const played = perform(part, bank, bpm, instrument, {
          ...CAREFUL,
          wrong: 0.04,
          missed: 0.02,
          unsteadySec: 0.02,
          unevenDb: 1 + 1.5 * random(),
          tempo: 0.8 + 0.3 * random(),
          accentDb,
          staccatoShare,
          staccatoSlower,
          seed,
        });
        const pcm = await heardIn(
          { take: played, part, instrument, bank, askedBpm: bpm, seed },
          { room, around, device },
        );
        const { take, marks, notes } = assess(part, pcm, { bpm, instrumentId: source.instrument });
        takes++;
        if (take.status !== "assessed") continue;
        if (process.env.TELL && label === "looked into")
          console.error(
            `${source.name}/${room}/${around}/${device}/${seed}: accents ${accentDb.toFixed(1)} ${JSON.stringify(marks?.accents)}, staccato ${staccatoShare.toFixed(2)} ${(100 * staccatoSlower).toFixed(0)} ${JSON.stringify(marks?.staccato)} drift ${take.driftPercent}`,
          );
        if (marks?.accents) {
          const { audible } = marks.accents;
          words.unheard.add(accentDb === 0, audible === null ? null : !audible);
          words.heard.add(accentDb > 0, audible);
        }
        const slower = marks?.staccato?.slowerPercent;
        if (slower != null) words.slower.add(staccatoSlower > 0, slower >= 6);
        for (const truth of played.played) {
          const said = notes[truth.index]!;
          const event = part.parts[0].measures
            .flatMap(({ events }) => events)
            .find(({ id }) => id === said.eventId);
          if (event?.articulations?.includes("staccato") && said.verdict === "ok" && !truth.wrong)
            words.long.add(truth.length === "long", said.flags.includes("not-short"));
        }
      }
    }
    const row = (what: string, cell: string): Row => [
      `marks, ${label}, ${what}`,
      cell,
      `${takes} takes`,
      "–",
    ];
    rows.push(
      row("accents told as not heard", words.unheard.cell),
      row("accents told as heard", words.heard.cell),
      row("staccato notes told as long", words.long.cell),
      row("staccato told as slower", words.slower.cell),
    );
  }
  return rows;
}
