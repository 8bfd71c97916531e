import { addDays } from "../../core/calendar";
import {
  type FingeringOptions,
  fifthsOfInterval,
  type Instrument,
  instrumentById,
  isBlown,
  midiToPitch,
  pitchToMidi,
  STAGES,
  spellMidi,
  stageRange,
  writtenInterval,
} from "../../core/music";
import { type CardFact, type CardState, cardStates, countingResults, type Fact } from "../../core/practice";
import type { Known } from "../../core/score";
import { Band, factsOfKind, practisedDays, seatsOfPlayer, titlesOfTasks } from "../../data";
import { type Actor, found, player } from "../actor";
import { today } from "../calendar";
import { playerKnowledge } from "../knowledge";
import { describeNote, ownFingerings } from "../parts";
import { settingsOf } from "../settings";
import { countedIn, factOf } from "./facts";
import type { CardFace, OwnInstrument, PracticeView } from "./wire";

/** So far back the log and the curves go, days. */
const DAYS_BACK = 56;
/** So many facts of a kind are read at most: more than a year of two minutes a day. */
const MOST_FACTS = 4000;
const MOST_ENTRIES = 20;

/** The stages in which putting together and making a sound still need telling. */
export const FIRST_STAGES = new Set(["making-a-sound", "five-notes"]);

/** Everything the tools, the cards and the log of a player need. */
export async function practiceView(actor: Actor): Promise<PracticeView> {
  const who = player(actor);
  const band = found(await Band.findByPk(who.bandId), "band");
  const now = today(band.timeZone);
  const decided = settingsOf(band);
  const [seats, knowledge, cards, tones, own, rounds, counted, days] = await Promise.all([
    seatsOfPlayer(who.playerId),
    playerKnowledge(who.bandId, who.playerId, now),
    factsOfKind(who.playerId, ["card"], MOST_FACTS),
    factsOfKind(who.playerId, ["tone"], 500),
    factsOfKind(who.playerId, ["own"], MOST_ENTRIES),
    factsOfKind(who.playerId, ["round"], MOST_FACTS),
    factsOfKind(who.playerId, ["counting"], MOST_FACTS),
    practisedDays(who.playerId, addDays(now, -DAYS_BACK), now),
  ]);
  const instruments: OwnInstrument[] = [];
  const deck: CardFace[] = [];
  for (const seat of seats) {
    const instrument = instrumentById(seat.instrumentId);
    const { known } = knowledge.of(seat);
    const options = { variant: seat.variant, own: await ownFingerings(who.bandId, seat.instrumentId) };
    instruments.push(ownInstrument(instrument, seat.stage, known, options));
    deck.push(...deckOf(instrument, known, options));
  }
  return {
    playerName: who.name,
    today: now,
    instruments,
    cards: {
      deck: [...new Map(deck.map((card) => [card.id, card])).values()],
      states: Object.fromEntries(statesOf(cards.map(factOf))),
      lineHint: decided.lineHint,
      spaceHint: decided.spaceHint,
    },
    a4Hz: Number(band.a4Hz),
    inTuneCents: decided.judging[seats[0]?.stage ?? "small-tunes"].inTuneCents,
    tuneWhen: decided.tuneWhen,
    firstWeeks: seats.some(({ stage }) => FIRST_STAGES.has(stage)),
    days,
    askMinutes: decided.homeMinutes,
    logBy: decided.logBy,
    logSheet: decided.logSheet,
    entries: own
      .map(({ id, day, detail }) => ({ id, day, minutes: Number(detail.minutes), text: String(detail.text) }))
      .reverse(),
    counting: countingResults(countedIn(counted)),
    tones: longestByDay(tones.map(factOf)),
    tempi: await temposOf(rounds.map(factOf), who.playerId),
  };
}

/** Cards of a player as they stand after every answer. */
export function statesOf(facts: readonly Fact[]): Map<string, CardState> {
  return cardStates(
    facts.filter((fact): fact is Fact & { kind: "card" } => fact.kind === "card") as CardFact[],
  );
}

/** Cards of what was taught: notes by name and by fingering, rhythms, signs. What nobody taught is not asked. */
function deckOf(instrument: Instrument, known: Known, options: FingeringOptions): CardFace[] {
  const fifths = -2 + fifthsOfInterval(writtenInterval(instrument));
  const notes = [...known.notes]
    .sort((a, b) => a - b)
    .map((midi) => ({ midi, note: describeNote(spellMidi(midi, fifths), instrument, options) }));
  return [
    ...notes.map(
      ({ midi, note }): CardFace => ({ id: `name ${instrument.clef} ${midi}`, kind: "name", note }),
    ),
    ...notes.flatMap(({ midi, note }): CardFace[] =>
      note.fingering ? [{ id: `fingering ${instrument.id} ${midi}`, kind: "fingering", note }] : [],
    ),
    ...[...known.rhythms].map((name): CardFace => ({ id: `rhythm ${name}`, kind: "rhythm", name })),
    ...[...known.signs].map((name): CardFace => ({ id: `sign ${name}`, kind: "sign", name })),
  ];
}

function ownInstrument(
  instrument: Instrument,
  stage: OwnInstrument["stage"],
  known: Known,
  options: FingeringOptions,
): OwnInstrument {
  const range = stageRange(instrument, STAGES.at(-1)!);
  return {
    id: instrument.id,
    name: instrument.name,
    stage,
    clef: instrument.clef,
    soundsBySemitones: instrument.soundsBy.semitones,
    blown: isBlown(instrument),
    brass: typeof instrument.fingering === "object",
    pitched: range !== null,
    chart: range
      ? Array.from({ length: pitchToMidi(range.high) - pitchToMidi(range.low) + 1 }, (_, i) => {
          const midi = pitchToMidi(range.low) + i;
          return {
            ...describeNote(midiToPitch(midi), instrument, options),
            midi,
            known: known.notes.has(midi),
          };
        })
      : [],
    tuningNote: instrument.tuningNote,
  };
}

function longestByDay(facts: readonly Fact[]): PracticeView["tones"] {
  const best = new Map<string, PracticeView["tones"][number]>();
  for (const fact of facts) {
    if (fact.kind !== "tone") continue;
    const { day, note, heldSec, pitchSdCents, levelSdDb, brightnessSpread } = fact;
    if (heldSec > (best.get(day)?.heldSec ?? 0))
      best.set(day, { day, note, heldSec, pitchSdCents, levelSdDb, brightnessSpread });
  }
  return [...best.values()].sort((a, b) => a.day.localeCompare(b.day));
}

/** The highest tempo of a clean round of each line, day by day; lines of a single day say nothing of growth. */
async function temposOf(facts: readonly Fact[], playerId: string): Promise<PracticeView["tempi"]> {
  const byTask = new Map<string, Map<string, number>>();
  for (const fact of facts) {
    if (fact.kind !== "round" || fact.outcome !== "clean" || !fact.taskId) continue;
    const days = byTask.get(fact.taskId) ?? new Map<string, number>();
    days.set(fact.day, Math.max(days.get(fact.day) ?? 0, fact.bpm));
    byTask.set(fact.taskId, days);
  }
  const lines = await titlesOfTasks(playerId, [...byTask.keys()]);
  return lines.map(({ taskId, title, goalBpm }) => ({
    taskId,
    title,
    goalBpm,
    days: [...byTask.get(taskId)!]
      .map(([day, bpm]) => ({ day, bpm }))
      .sort((a, b) => a.day.localeCompare(b.day)),
  }));
}
