import type { Assessment } from "../listen";
import { isClean } from "../progress";
import { measureOfEvents, type Score, type Snag } from "../score";
import { ownLadder } from "./ladder";
import type { PracticeStep } from "./steps";
import { startingTempo } from "./tempo";

/** Bars that are played in one round, by index in the part, both ends included. */
export interface Passage {
  from: number;
  to: number;
}

export interface Place extends Passage {
  /** Stable over visits: which bars, and how they are played. */
  id: string;
  /** The tempo it is begun at; a ladder has its own. */
  bpm: number;
  kind: "whole" | "part" | "snag" | "joined" | "tongued" | "slurred";
  /** What makes a snag of it: what this instrument typically stumbles over, or what went wrong in the last take. */
  why: Snag | "last-take" | null;
}

/** One step of the path of a line. */
export interface Leg {
  /** The step, and from the second time on how often it came: "whole", "whole-2". */
  id: string;
  step: PracticeStep;
  /** What is played in it, one after the other. */
  places: Place[];
  /** Tempi of a ladder, slowest first; empty elsewhere. */
  rungs: number[];
}

export interface PathOptions {
  /** What the director leads through; null leaves it to the bench. */
  steps: readonly PracticeStep[] | null;
  /** A counting page is worked bar by bar, a warm-up is heard and played, held tones are heard and recorded, of a catalogued line there is nothing to show. */
  material: "line" | "warm-up" | "tones" | "counting" | "catalogued";
  goalBpm: number;
  /** The director's ladder, slowest first; the goal alone where none was set. */
  rungs: readonly number[];
  /** Something is recorded of it. */
  records: boolean;
  /** There is something to accompany it with. */
  accompanied: boolean;
  /** The part has pitches, a player can finger it. */
  fingered: boolean;
  snags: readonly Snag[];
  /** The player's last take of the same part. */
  lastTake: Assessment | null;
  order: "halves" | "backwards";
  tongueFirst: boolean;
  /** Read it first, unheard. */
  readFirst: boolean;
}

/** So many snags are taken out at most: more is another line. */
const MOST_SNAGS = 3;
/** Lines of fewer bars are learned whole. */
const LEAST_TO_PART = 4;

/**
 * The path of a line for one player: the director's steps, or the usual ones, made of this part's own bars. Steps that have
 * nothing to do here (no slurs to tongue, no snags, nothing to record) are left out.
 *
 * @param score  the part that is practised, in written pitch, for its player
 */
export function pathOf(score: Score, options: PathOptions): Leg[] {
  const possible = POSSIBLE[options.material];
  const wanted = options.steps?.length ? withWhatIsAsked(options.steps, options) : usualSteps(options);
  const steps = possible ? wanted.filter((step) => possible.includes(step)) : wanted;
  const start = startingTempo(score, options.goalBpm).bpm;
  const seen = new Map<PracticeStep, number>();
  return steps.flatMap((step): Leg[] => {
    const leg = legOf(step, score, start, options);
    if (!leg) return [];
    const nth = (seen.get(step) ?? 0) + 1;
    seen.set(step, nth);
    return [{ id: nth === 1 ? step : `${step}-${nth}`, step, ...leg }];
  });
}

/** What can be done with what is no line; everything with a line. */
const POSSIBLE: Record<PathOptions["material"], readonly PracticeStep[] | null> = {
  line: null,
  "warm-up": ["listen", "whole", "record", "perform"],
  // How steady a tone was is no matter of right notes: the take tells it.
  tones: ["listen", "record", "perform"],
  counting: ["count", "record", "perform"],
  catalogued: ["record", "perform"],
};

/** What the bench leads through where the director said nothing: short, since ten minutes are what there is. */
function usualSteps({ readFirst }: PathOptions): PracticeStep[] {
  const first: PracticeStep[] = readFirst ? ["look", "count", "listen"] : ["listen", "look", "count"];
  return [...first, "finger", "tongue", "slow", "snags", "whole", "ladder", "record", "perform"];
}

/** A ladder that was set is climbed, and what is to be recorded can be, though the director's steps name neither. */
function withWhatIsAsked(
  steps: readonly PracticeStep[],
  { rungs, records }: PathOptions,
): readonly PracticeStep[] {
  const missing: PracticeStep[] = [
    ...(rungs.length > 1 && !steps.includes("ladder") ? (["ladder"] as const) : []),
    ...(records && !steps.includes("record") ? (["record"] as const) : []),
  ];
  const end = steps.at(-1) === "perform" ? steps.length - 1 : steps.length;
  return [...steps.slice(0, end), ...missing, ...steps.slice(end)];
}

function legOf(
  step: PracticeStep,
  score: Score,
  startBpm: number,
  options: PathOptions,
): Pick<Leg, "places" | "rungs"> | null {
  const last = score.parts[0].measures.length - 1;
  const place = (kind: Place["kind"], from: number, to: number, bpm: number, why: Place["why"] = null) => ({
    id: `${kind} ${from}-${to}`,
    kind,
    from,
    to,
    bpm,
    why,
  });
  const whole = (bpm: number) => place("whole", 0, last, bpm);
  const alone = (...places: Place[]) => ({ places, rungs: [] });
  switch (step) {
    case "sing":
    case "finger":
      return options.fingered ? alone(whole(startBpm)) : null;
    case "one-note":
      return options.fingered ? alone(whole(startBpm)) : null;
    case "tongue": {
      if (!hasSlurs(score)) return null;
      const both = [place("tongued", 0, last, startBpm), place("slurred", 0, last, startBpm)];
      return alone(...(options.tongueFirst ? both : both.reverse()));
    }
    case "slow":
      return alone(...partsOf(score, options.order).map(({ from, to }) => place("part", from, to, startBpm)));
    case "snags": {
      const snags = snagPlaces(score, options);
      // Taken out, then put back: the same bars with their neighbours.
      const places = snags.flatMap(({ from, to, why }) => [
        place("snag", from, to, startBpm, why),
        ...(from > 0 || to < last
          ? [place("joined", Math.max(0, from - 1), Math.min(last, to + 1), startBpm, why)]
          : []),
      ]);
      return places.length > 0 ? alone(...places) : null;
    }
    case "ladder": {
      const own = options.rungs.length > 1 ? [...options.rungs] : ownLadder(startBpm, options.goalBpm);
      return own.length > 1 ? { places: [whole(options.goalBpm)], rungs: own } : null;
    }
    case "accompaniment":
      return options.accompanied ? alone(whole(options.goalBpm)) : null;
    case "record":
      return options.records ? alone(whole(options.goalBpm)) : null;
    case "perform":
    case "ear":
    case "listen":
      return alone(whole(options.goalBpm));
    default:
      return alone(whole(startBpm));
  }
}

function hasSlurs(score: Score): boolean {
  return score.parts[0].measures.some(({ events }) =>
    events.some(({ slurStart }) => slurStart !== undefined),
  );
}

/**
 * How a line is put together: first half, second half, whole; or from its end, the last bars first, twice as many each time.
 * A pickup belongs to the bar after it.
 */
export function partsOf(score: Score, order: PathOptions["order"]): Passage[] {
  const { measures } = score.parts[0];
  const last = measures.length - 1;
  const whole = { from: 0, to: last };
  if (measures.length < LEAST_TO_PART) return [whole];
  const pickup = measures[0]!.implicit ? 1 : 0;
  if (order === "backwards") {
    const parts: Passage[] = [];
    for (let bars = 1; last - bars + 1 > pickup; bars *= 2) parts.push({ from: last - bars + 1, to: last });
    return [...parts, whole];
  }
  const middle = pickup + Math.ceil((measures.length - pickup) / 2);
  return [{ from: 0, to: middle - 1 }, { from: middle, to: last }, whole];
}

/** Where the player stumbled in the last take, worst first, then what this instrument typically stumbles over. */
function snagPlaces(
  score: Score,
  { snags, lastTake }: PathOptions,
): (Passage & { why: NonNullable<Place["why"]> })[] {
  const barOf = measureOfEvents(score);
  const own = new Map<number, number>();
  if (lastTake?.take.status === "assessed")
    for (const note of lastTake.notes) {
      const bar = barOf.get(note.eventId);
      if (bar !== undefined && !isClean(note))
        own.set(bar, (own.get(bar) ?? 0) + (note.verdict === "ok" ? 1 : 2));
    }
  const found: (Passage & { why: NonNullable<Place["why"]> })[] = [...own]
    .sort(([a, x], [b, y]) => y - x || a - b)
    .map(([bar]) => ({ from: bar, to: bar, why: "last-take" as const }));
  for (const snag of [...snags].sort((a, b) => b.weight - a.weight)) {
    const [from, to] = [barOf.get(snag.fromEventId), barOf.get(snag.toEventId)];
    // A long breath is no loop: it is the whole phrase.
    if (from === undefined || to === undefined || snag.kind === "long-breath") continue;
    found.push({ from: Math.min(from, to), to: Math.max(from, to), why: snag });
  }
  const chosen: typeof found = [];
  for (const each of found)
    if (chosen.length < MOST_SNAGS && !chosen.some(({ from, to }) => from <= each.to && each.from <= to))
      chosen.push(each);
  return chosen.sort((a, b) => a.from - b.from);
}
