import { addDays } from "../../src/core/calendar";
import { draftTerm, draftWeek, type GroupState, type LineState, type Slot } from "../../src/core/plan";
import { median, quantile, type Row } from "./statistics";

const GROUPS = 6;
const LINES = 300;
const PLAYERS_A_GROUP = 20;
const RUNS = 20;
const INSTRUMENTS = ["flute", "clarinet", "alto sax", "trumpet", "horn", "trombone"];

/** A week for 120 players in six groups, each in the middle of 300 lines with takes of the last weeks. */
export function benchDraft(): Row[] {
  const groups = Array.from({ length: GROUPS }, (_, i) => groupState(i));
  const week = slots();
  const draft: number[] = [];
  const plain: number[] = [];
  for (let run = 0; run < RUNS + 3; run++) {
    const before = performance.now();
    JSON.parse(JSON.stringify(groups));
    const from = performance.now();
    for (const group of groups) draftWeek(group, week);
    if (run < 3) continue;
    plain.push(from - before);
    draft.push(performance.now() - from);
  }
  return [
    [
      `a week drafted, ${GROUPS * PLAYERS_A_GROUP} players in ${GROUPS} groups, ${LINES} lines`,
      `${median(draft).toFixed(0)} ms`,
      `p95 ${quantile(draft, 0.95).toFixed(0)} ms`,
      `${(median(draft) / median(plain)).toFixed(0)} x the same facts through JSON once`,
    ],
  ];
}

const TERM_WEEKS = 40;
const TERM_RUNS = 3;

/** Forty weeks for the same groups at once, as the page's worker drafts them. */
export function benchTerm(): Row[] {
  const weeks = Array.from({ length: TERM_WEEKS }, (_, week) =>
    slots().map((slot) => ({ ...slot, key: `${slot.key}/${week}`, date: addDays(slot.date, 7 * week) })),
  ).flat();
  const groups = Array.from({ length: GROUPS }, (_, i) => ({ state: groupState(i), slots: weeks }));
  const times: number[] = [];
  let longest = 0;
  for (let run = 0; run < TERM_RUNS; run++) {
    const from = performance.now();
    let last = from;
    draftTerm(groups, () => {
      longest = Math.max(longest, performance.now() - last);
      last = performance.now();
      return true;
    });
    times.push(performance.now() - from);
  }
  return [
    [
      `${TERM_WEEKS} weeks drafted for the same ${GROUPS} groups (aim 5 s)`,
      `${(median(times) / 1000).toFixed(1)} s`,
      `longest ${(Math.max(...times) / 1000).toFixed(1)} s; progress is told every ${longest.toFixed(0)} ms at the latest`,
      "–",
    ],
  ];
}

function groupState(number: number): GroupState {
  const reached = 100 + 20 * number;
  return {
    groupId: `g${number}`,
    today: "2026-11-26",
    lines: Array.from({ length: LINES }, (_, order) =>
      lineState(order, order < reached ? reached - order : null),
    ),
    routines: [{ id: "r", title: "Routine", seconds: 480, metOn: [] }],
    pages: [{ id: "c", title: "Counting", seconds: 240, metOn: ["2026-11-16"] }],
    goals: [
      {
        id: "goal",
        kind: "concert",
        name: "Concert",
        date: "2026-12-20",
        lineIds: [`l${reached - 3}`, `l${reached + 4}`],
      },
    ],
    linesAWeek: 2,
    cardsOnly: false,
    turnedDown: new Set(),
  };
}

/** @param behind  how many lines ago it was met; null for one that comes */
function lineState(order: number, behind: number | null): LineState {
  const wrong = behind !== null && behind < 6 ? 3 + (order % 5) : 0;
  return {
    id: `l${order}`,
    title: `No. ${order}`,
    order,
    seconds: 20 + (order % 30),
    bars: 8,
    difficulty: 1 + order / 30,
    asks: INSTRUMENTS.map((instrumentId, i) => ({
      instrumentId,
      players: 3,
      newThings: behind === null && (order + i) % 4 === 0 ? ["a note"] : [],
      outOfRange: false,
    })),
    met:
      behind === null
        ? []
        : [{ on: `2026-11-${String(24 - Math.min(20, behind)).padStart(2, "0")}`, clean: 0.6 }],
    results:
      behind === null || behind > 20
        ? null
        : {
            takes: PLAYERS_A_GROUP,
            clean: 0.5 + (order % 5) / 10,
            hotBar: { index: 4, label: "5", wrong, takes: PLAYERS_A_GROUP, instrumentId: null },
            tempo: { reached: 76, goal: 88 },
          },
  };
}

function slots(): Slot[] {
  const days = ["2026-11-30", "2026-12-01", "2026-12-02", "2026-12-03", "2026-12-04"];
  const common = { newThings: 2, about: [], hard: false, easy: false, empty: true };
  return [
    ...[days[0]!, days[2]!].map((date) => ({
      ...common,
      key: `class/${date}`,
      where: "class" as const,
      date,
      minutes: 40,
      changeover: 1,
      most: 6,
    })),
    ...days.map((date) => ({
      ...common,
      key: `home/${date}`,
      where: "home" as const,
      date,
      minutes: 15,
      changeover: 0,
      most: 4,
    })),
  ];
}
