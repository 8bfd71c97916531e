import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { writeWav } from "../src/core/audio";
import { addDays } from "../src/core/calendar";
import { instrumentById, isBlown, pitchName } from "../src/core/music";
import { MOST_FACTS_AT_ONCE } from "../src/core/practice";
import { seededRandom } from "../src/core/rhythm";
import { derivePart } from "../src/core/score";
import { Assignment, LineRevision, Player, PlayerInstrument, Task } from "../src/data";
import type { Director, PlayerActor } from "../src/services/actor";
import { instantOf, today } from "../src/services/calendar";
import { giveToOneself } from "../src/services/giving";
import {
  answerBySound,
  answerQuestion,
  askQuestion,
  type KeepPractice,
  keepPractice,
  practiceView,
} from "../src/services/practice";
import { AHEAD, DEMO, NEWCOMER } from "./band";
import { recordTake, steadyHabits } from "./players";

type Fact = z.input<typeof KeepPractice>["facts"][number];

/** So many days back the band has practised with the bench. */
const DAYS = 19;
/** What somebody does at home away from it. */
const AWAY = [
  "played for my grandmother",
  "sectional in the boat house",
  "tuned with my sister",
  "long tones on the pier",
];

/** Three weeks of practice at home: some every day, some now and then, faster and longer as the days go by. */
export async function practise(director: Director, lineIds: ReadonlyMap<number, string>): Promise<number> {
  const players = await Player.findAll({ where: { bandId: director.bandId, leftOn: null }, order: ["id"] });
  let kept = 0;
  for (const [place, player] of players.entries()) {
    const who: PlayerActor = {
      kind: "player",
      playerId: player.id,
      bandId: director.bandId,
      name: player.name,
    };
    const facts = await factsOf(who, place, player.name === NEWCOMER.name);
    for (let at = 0; at < facts.length; at += MOST_FACTS_AT_ONCE)
      kept += (
        await keepPractice(who, {
          playerId: player.id,
          sentAt: new Date().toISOString(),
          facts: facts.slice(at, at + MOST_FACTS_AT_ONCE),
        })
      ).kept.length;
  }
  await ask(director, players);
  await goAhead(director, players, lineIds);
  return kept;
}

async function factsOf(who: PlayerActor, place: number, newcomer: boolean): Promise<Fact[]> {
  const random = seededRandom(900 + place);
  const diligence = [0.85, 0.6, 0.75, 0.95, 0.35, 0.55][place % 6]!;
  const tasks = await Task.findAll({
    where: { playerId: who.playerId, closedAt: null },
    order: [["id", "DESC"]],
  });
  const held = await PlayerInstrument.findOne({ where: { playerId: who.playerId, toDate: null } });
  const instrument = held && instrumentById(held.instrumentId);
  const { cards } = await practiceView(who);
  const now = today(DEMO.timeZone);
  const facts: Fact[] = [];
  for (let back = newcomer ? 6 : DAYS; back >= 1; back--) {
    const day = addDays(now, -back);
    const weekend = [0, 6].includes(new Date(`${day}T12:00:00Z`).getUTCDay());
    if (random() > (weekend ? 0.3 : diligence)) continue;
    let minute = 0;
    const begin = instantOf(day, "16:30", DEMO.timeZone).getTime() + Math.floor(random() * 3_600_000);
    const at = () => new Date(begin + 40_000 * minute++).toISOString();
    const beside = () => ({ id: uuid(), at: at(), seconds: 20 + Math.floor(random() * 25) });
    const progress = (DAYS - back) / DAYS;
    for (const card of cards.deck.slice(0, 4 + (place % 3)))
      facts.push({
        ...beside(),
        seconds: 8,
        kind: "card",
        card: card.id,
        rating: random() < 0.15 ? "again" : random() < 0.7 ? "good" : "easy",
      });
    if (instrument && isBlown(instrument) && !newcomer && back % 2 === 0)
      facts.push({
        ...beside(),
        kind: "tone",
        instrumentId: instrument.id,
        note: toneName(cards.deck),
        heldSec: Math.round(10 * (3.5 + 5 * progress + 2 * random())) / 10,
        pitchSdCents: 6 + 8 * random(),
        levelSdDb: 1 + 1.5 * random(),
        brightnessSpread: 0.05 + 0.1 * random(),
      });
    if (back % 3 === place % 3) {
      const of = 3 + (place % 3);
      facts.push({
        ...beside(),
        kind: "counting",
        activity: ["fill", "dictation", "mistake", "start"][place % 4]!,
        of,
        right: Math.min(of, Math.floor((0.35 + 0.5 * progress + 0.3 * random()) * of)),
      });
    }
    if (random() < 0.08)
      facts.push({
        ...beside(),
        seconds: 0,
        kind: "own",
        minutes: 5 + 5 * Math.floor(3 * random()),
        text: AWAY[back % AWAY.length]!,
      });
    if (newcomer) {
      facts.push({ ...beside(), seconds: 150, kind: "tool", tool: "sound" });
      continue;
    }
    const task = tasks[back % Math.max(1, Math.min(2, tasks.length))];
    if (task) facts.push(...(await roundsOf(task, progress, at, random)));
  }
  return facts;
}

function toneName(deck: { kind: string }[]): string {
  const names = deck.flatMap((card) =>
    "note" in card ? [(card as { note: { name: string } }).note.name] : [],
  );
  return names[Math.floor(names.length / 2)] ?? pitchName({ letter: "B", alter: -1, octave: 4 });
}

/** One sitting with a line: looked at first, slow rounds, then up the ladder as far as the days have brought it. */
async function roundsOf(
  task: Task,
  progress: number,
  at: () => string,
  random: () => number,
): Promise<Fact[]> {
  const assignment = (await Assignment.findByPk(task.assignmentId))!;
  const revision = (await LineRevision.findByPk(assignment.revisionId, { attributes: ["score"] }))!;
  const bars =
    assignment.firstBar === null
      ? revision.score.parts[0].measures.length
      : assignment.lastBar! - assignment.firstBar + 1;
  const whole = `whole 0-${bars - 1}`;
  const about = () => ({ id: uuid(), at: at(), taskId: task.id, seconds: 25 + Math.floor(random() * 20) });
  const bpm = Math.round(assignment.goalBpm * (0.65 + 0.3 * progress + 0.05 * random()));
  const outcome = () => (random() < 0.35 + 0.4 * progress ? "clean" : random() < 0.6 ? "nearly" : "poor");
  return [
    ...(["listen", "look", "count"] as const).map((leg): Fact => ({ ...about(), kind: "did", leg })),
    ...Array.from(
      { length: 4 },
      (_, i): Fact => ({
        ...about(),
        kind: "round",
        leg: i < 2 ? "whole" : "ladder",
        place: whole,
        bpm: Math.max(40, i < 2 ? bpm - 8 : bpm),
        outcome: outcome(),
      }),
    ),
  ];
}

/** One goes on in the book by own choice, asked to hear the line, and the director played it. */
async function goAhead(
  director: Director,
  players: readonly Player[],
  lineIds: ReadonlyMap<number, string>,
): Promise<void> {
  const player = players.find(({ name }) => name === AHEAD.name)!;
  const who: PlayerActor = {
    kind: "player",
    playerId: player.id,
    bandId: director.bandId,
    name: player.name,
  };
  const { taskId } = await giveToOneself(who, lineIds.get(AHEAD.line)!, today(DEMO.timeZone));
  const task = (await Task.findByPk(taskId))!;
  const id = uuid();
  await askQuestion(who, taskId, { id, kind: "please-play", measure: null, text: "" });
  const assignment = (await Assignment.findByPk(task.assignmentId))!;
  const { score } = (await LineRevision.findByPk(assignment.revisionId))!;
  const { score: part } = derivePart(score, instrumentById(task.instrumentId), task.stage, {
    partId: task.partId,
    octave: task.octaveShift,
  });
  const { pcm } = recordTake(
    part,
    task.instrumentId,
    assignment.goalBpm,
    steadyHabits,
    { noise: 0.001, echo: 0.2 },
    71,
  );
  await answerQuestion(director, id, { answer: "Like this. Hear where I breathe." });
  await answerBySound(director, id, writeWav(pcm));
}

/** Two players have asked; one has been answered. */
async function ask(director: Director, players: readonly Player[]): Promise<void> {
  const words = [
    {
      name: "Ines Haldorsen",
      measure: "3",
      text: "Is the flat in bar 3 still there, or only in bar 1?",
      answer: "Still there: the sign at the start counts for the whole line.",
    },
    {
      name: "Tomasz Braelund",
      measure: null,
      text: "My low note sounds like a motor. What can I do?",
      answer: "",
    },
  ];
  for (const { name, measure, text, answer } of words) {
    const player = players.find((each) => each.name === name)!;
    const who: PlayerActor = { kind: "player", playerId: player.id, bandId: director.bandId, name };
    const task = await Task.findOne({
      where: { playerId: player.id, closedAt: null },
      order: [["id", "DESC"]],
    });
    if (!task) continue;
    const id = uuid();
    await askQuestion(who, task.id, { id, kind: "question", measure, text });
    if (answer) await answerQuestion(director, id, { answer });
  }
}
