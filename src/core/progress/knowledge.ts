import { type Instrument, STAGES, type Stage } from "../music";
import { type Known, knownAtStage, stageBrings } from "../score";
import type { Thing, ThingKind } from "./evidence";

/** Why somebody knows a thing. Dates are local days, "2026-11-24". */
export type Reason =
  /** Brought by the stages before the present one. */
  | { by: "stage"; stage: Stage }
  /** `said`: how the lesson is told, "No. 14". */
  | { by: "taught"; on: string; said: string }
  /** Right every time in so many takes, of which so many were accepted. */
  | { by: "shown"; cleanTakes: number; acceptedTakes: number; lastOn: string };

export interface KnownThing extends Thing {
  /**
   * "knows": name, fingering and looks of it are taught. "sounds": it was heard right, or the stages before have brought
   * it. A note that is exempt is known and does not speak yet.
   */
  level: "knows" | "sounds";
  /** Not judged for this player: small hands. */
  exempt: boolean;
  reasons: Reason[];
}

export interface KnowledgeInput {
  instrument: Instrument;
  /** The stage on this instrument. */
  stage: Stage;
  taught: readonly (Thing & { on: string; said: string })[];
  shown: readonly (Thing & { cleanTakes: number; acceptedTakes: number; lastOn: string })[];
  /** What the director took away; what is taught or shown later than that day counts again. */
  takenAway: readonly (Thing & { on: string })[];
  /** Written MIDI numbers exempt from judgement. */
  exempt: readonly number[];
  /** Lessons of later days are still to come. */
  today: string;
}

export interface Knowledge {
  things: KnownThing[];
  /** What readiness, sheets and practice ask. */
  known: Known;
  /** Players of one instrument and stage with the same hash know the same. */
  hash: string;
}

/** So many takes without a slip show a thing where no director accepted one: once may be luck, twice chance. */
export const TAKES_THAT_SHOW = 3;

/**
 * What a player knows on one instrument, and why: what the stages before brought, what was taught, what was heard right,
 * less what the director took away. More teaching and more evidence never make it less.
 */
export function knowledgeOf(input: KnowledgeInput): Knowledge {
  const { instrument, stage, today } = input;
  const away = new Map(input.takenAway.map((each) => [keyOf(each), each.on]));
  const things = new Map<string, KnownThing>();
  const exempt = new Set(input.exempt.map(String));
  const know = (each: Thing, reason: Reason) => {
    const { kind, thing } = each;
    const key = keyOf(each);
    const own = things.get(key) ?? { kind, thing, level: "knows", exempt: false, reasons: [] };
    own.reasons.push(reason);
    own.exempt = kind === "note" && exempt.has(thing);
    if (reason.by !== "taught" && !own.exempt) own.level = "sounds";
    things.set(key, own);
  };
  for (const before of STAGES.slice(0, STAGES.indexOf(stage)))
    for (const each of thingsOf(stageBrings(instrument, before)))
      if (!away.has(keyOf(each))) know(each, { by: "stage", stage: before });
  // Drums that are tuned have every note of theirs from the start.
  for (const each of thingsOf(knownAtStage(instrument, stage)))
    if (!away.has(keyOf(each)) && !things.has(keyOf(each))) know(each, { by: "stage", stage });
  for (const { on, said, ...each } of input.taught)
    if (on <= today && on > (away.get(keyOf(each)) ?? "")) know(each, { by: "taught", on, said });
  for (const { cleanTakes, acceptedTakes, lastOn, ...each } of input.shown)
    if ((acceptedTakes > 0 || cleanTakes >= TAKES_THAT_SHOW) && lastOn > (away.get(keyOf(each)) ?? ""))
      know(each, { by: "shown", cleanTakes, acceptedTakes, lastOn });
  const all = [...things.values()].sort(
    (a, b) => KINDS.indexOf(a.kind) - KINDS.indexOf(b.kind) || compareThings(a, b),
  );
  const of = (kind: ThingKind) => all.flatMap((each) => (each.kind === kind ? [each.thing] : []));
  return {
    things: all,
    known: {
      notes: new Set(of("note").map(Number)),
      rhythms: new Set(of("rhythm")),
      signs: new Set(of("sign")),
    },
    hash: all.map(keyOf).join(","),
  };
}

const KINDS: ThingKind[] = ["note", "rhythm", "sign", "technique"];

function keyOf({ kind, thing }: Thing): string {
  return `${kind}/${thing}`;
}

function compareThings(a: Thing, b: Thing): number {
  return a.kind === "note" ? Number(a.thing) - Number(b.thing) : a.thing.localeCompare(b.thing);
}

/** What is known, thing by thing. */
export function thingsOf(known: Known): Thing[] {
  return [
    ...[...known.notes].map((midi): Thing => ({ kind: "note", thing: String(midi) })),
    ...[...known.rhythms].map((thing): Thing => ({ kind: "rhythm", thing })),
    ...[...known.signs].map((thing): Thing => ({ kind: "sign", thing })),
  ];
}

/** What speaks for the next stage. */
export interface StageSuggestion {
  from: Stage;
  to: Stage;
  /** Things of the present stage that are known, of how many: notes, or rhythms for an instrument without pitch. Null in the weeks of making a sound. */
  known: number | null;
  of: number;
  kind: "notes" | "rhythms" | "weeks";
}

/** From this share of a stage on the next one is near (from memory of common practice). */
const NEARLY_ALL = 0.8;

/**
 * Whether a player is ready for the next stage; null while not, and at the last.
 * @param weeksAtStage  whole weeks since the stage began
 * @param soundWeeks  weeks of making a sound, a setting of the band; a note that was heard right ends them sooner
 */
export function suggestStage(
  { things }: Pick<Knowledge, "things">,
  instrument: Instrument,
  stage: Stage,
  weeksAtStage: number,
  soundWeeks: number,
): StageSuggestion | null {
  const to = STAGES[STAGES.indexOf(stage) + 1];
  if (!to) return null;
  if (stage === "making-a-sound") {
    const heard = things.some(({ reasons }) => reasons.some((reason) => reason.by === "shown"));
    return heard || weeksAtStage >= soundWeeks
      ? { from: stage, to, known: null, of: soundWeeks, kind: "weeks" }
      : null;
  }
  // All that is to be known by the end of the stage.
  const asked = STAGES.slice(0, STAGES.indexOf(to)).map((each) => stageBrings(instrument, each));
  const kind = asked.some((each) => each.notes.size > 0) ? "notes" : "rhythms";
  const wanted = new Set(
    asked.flatMap((each) => [...(kind === "notes" ? each.notes : each.rhythms)].map(String)),
  );
  const known = things.filter(
    (each) => each.kind === (kind === "notes" ? "note" : "rhythm") && wanted.has(each.thing),
  ).length;
  return wanted.size > 0 && known / wanted.size >= NEARLY_ALL
    ? { from: stage, to, known, of: wanted.size, kind }
    : null;
}
