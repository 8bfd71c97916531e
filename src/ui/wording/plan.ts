import { daysBetween } from "../../core/calendar";
import { instrumentById } from "../../core/music";
import type {
  Draft,
  LineAsk,
  Pace,
  Passage,
  PassageState,
  PlanStep,
  Proposal,
  ReadHolidays,
  Reason,
  StripKind,
  TermDraft,
  Unfilled,
} from "../../core/plan";
import { nameList } from "./names";

const percent = (share: number) => `${Math.round(100 * share)} %`;
const days = (count: number) => (count === 1 ? "1 day" : `${count} days`);
const players = (instrumentId: string, count: number) =>
  `${count === 1 ? "1 player" : `${count} players`} of ${instrumentById(instrumentId).name}`;

/** What a proposal is called; what has no title of its own by what it is. */
export function proposalTitle({ title, kind }: Pick<Proposal, "title" | "kind">): string {
  if (title) return title;
  return kind === "text" ? "A line of the next book" : "note names and fingerings";
}

/** Why a strip is proposed, in one line. */
export function planReason(reason: Reason): string {
  switch (reason.kind) {
    case "opens":
      return "Opens the class; everybody knows it.";
    case "next":
      return reason.newThings.length > 0
        ? `Next in your order; brings ${nameList(reason.newThings)}.`
        : "Next in your order; nothing in it is new.";
    case "take-home":
      return "Met in class this week; now at home.";
    case "hot-bar":
      return `Bar ${reason.bar}: wrong in ${reason.wrong} of ${reason.takes} takes${reason.instrumentId ? ` of ${instrumentById(reason.instrumentId).name}` : ""}.`;
    case "returns":
      return `Comes back after ${days(reason.after)}${reason.clean === null ? "" : `; ${percent(reason.clean)} clean last time`}.`;
    case "pleasure":
      return `Solid; once more after ${days(reason.after)} so that it stays so.`;
    case "tempo":
      return `Notes are there; ${reason.reached} of ${reason.goal} bpm reached.`;
    case "goal":
      return `${reason.name} in ${days(reason.inDays)} needs it.`;
    case "teach-first":
      return `${nameList(reason.newThings)} first: ${players(reason.instrumentId, reason.players)} cannot play ${reason.lineTitle} without.`;
    case "waits":
      return `In place of ${reason.lineTitle}: ${players(reason.instrumentId, reason.players)} ${reason.newThings.length > 0 ? `had no ${nameList(reason.newThings)} yet` : "cannot reach all of it yet"}.`;
    case "counting":
      return reason.after === null
        ? "A few minutes of counting; this page was not done yet."
        : `A few minutes of counting; last done ${days(reason.after)} ago.`;
    case "player-stays":
      return `Not there yet: ${percent(reason.clean)} clean; once more before the next line.`;
    case "player-ahead":
      return `The last ${reason.lines} lines clean at tempo (${percent(reason.clean)}); something extra.`;
    case "player-next-book":
      return `Through this book, ${percent(reason.clean)} clean at tempo: time for the next one.`;
    case "make-up":
      return reason.lesson === null
        ? "In place of a class that was missed."
        : `Make-up of lesson ${reason.lesson}.`;
    case "cards":
      return "Note names and fingerings; lips are not ready for homework yet.";
  }
}

/** What of a calendar file is not taken over. */
export function leftOutText(why: ReadHolidays["leftOut"][number]["why"], count: number): string {
  const entries = count === 1 ? "1 entry" : `${count} entries`;
  const left = `${entries} left out: `;
  switch (why) {
    case "has-a-time":
      return `${left}with a time of day, so no day off.`;
    case "rule-not-read":
      return `${left}repeating by a rule the bench does not follow; add such days by hand.`;
    case "broken":
      return `${left}not to be read.`;
    case "outside":
      return `${left}longer ago than a year, or more than two years ahead.`;
    case "too-long":
      return `${left}longer than four months.`;
    case "too-many":
      return `${left}more than a band can have.`;
  }
}

/** Who is not ready, with what they lack. */
export function askText({ instrumentId, players: count, newThings, outOfRange }: LineAsk): string {
  const lacks = [
    ...(newThings.length > 0 ? [`new: ${nameList(newThings)}`] : []),
    ...(outOfRange ? ["out of range"] : []),
  ];
  return `${instrumentById(instrumentId).name}, ${count === 1 ? "1 player" : `${count} players`}: ${lacks.join("; ")}`;
}

/** Why a day keeps room. */
export function unfilledText({ minutes, why }: Unfilled): string {
  const left = `${minutes} min left`;
  switch (why) {
    case "nothing-due":
      return `${left}: nothing else is due.`;
    case "too-short":
      return `${left}: too short for what is still wanted.`;
    case "turned-down":
      return `${left}: what would fit was turned down.`;
    case "rules":
      return `${left}: two new things are enough for a day.`;
  }
}

export const STEP_TEXT: Record<Draft["step"], string> = {
  stay: "Stay with what there is: the newest line is not half clean yet.",
  "go-on": "Go on.",
  faster: "Go faster: the last three lines were clean at once.",
  "next-book": "Every line of the shelf was met: time for the next book.",
};

/** The way of one player beside that of the group. */
export const PLAYER_STEP_TEXT: Record<PlanStep, string> = {
  stay: "stays with the last line",
  "go-on": "goes on",
  faster: "goes faster",
  "next-book": "is ready for the next book",
};

export const KIND_NAMES: Record<StripKind, string> = {
  line: "line",
  routine: "warm-up",
  counting: "counting",
  piece: "piece",
  drill: "two-note drill",
  cards: "cards",
  listening: "listening",
  worksheet: "worksheet",
  test: "playing test",
  text: "words",
};

interface HomeTaskWords {
  kind: StripKind;
  title: string;
  bars: string;
  times: number;
  minutes: number;
  page: number | null;
  due: string | null;
  note: string;
}

const timesText = (times: number) => (times === 1 ? "once" : times === 2 ? "twice" : `${times} times`);

/** What to do with a thing at home, how often and how long, for the player. */
export function homeTaskText({ kind, times, minutes, page, due, note }: HomeTaskWords): string {
  const how: Partial<Record<StripKind, string>> = {
    counting: "Clap and count aloud",
    cards: "Say the name, show the fingers",
    drill: "To and fro, slowly, as one breath lasts",
    listening: "Listen with the notes in front of you",
  };
  return [
    `${how[kind] ?? "Slowly first, then as it should go"}, ${timesText(times)} this week, about ${minutes} min`,
    ...(page === null ? [] : [`page ${page} of your book`]),
    ...(due === null ? [] : [`due ${due}`]),
    ...(note ? [note] : []),
  ].join(" · ");
}

/** The same for a family, without a technical word. */
export function homeTaskForFamily({ kind, title, times, minutes, due }: HomeTaskWords): string {
  const what: Partial<Record<StripKind, string>> = {
    line: `Play “${title}”`,
    piece: `Play “${title}”`,
    counting: "Clap and count a page of rhythms aloud",
    cards: "Name notes and show fingers, without playing",
    drill: "Move slowly between two notes",
    routine: "Warm up",
    listening: `Listen to “${title}”`,
    test: `Get ready for a short test: “${title}”`,
  };
  return `${what[kind] ?? title}: ${timesText(times)}, about ${minutes === 1 ? "1 minute" : `${minutes} minutes`}${times > 1 ? " each time" : ""}${due === null ? "" : `, by ${due}`}.`;
}

/** How fast a group goes through its lines, and when it meets the last one. */
export function paceText(pace: Pace & { goal: number; done: number }): string {
  const rate = `${pace.perWeek.toFixed(1)} lines a week (± ${pace.plusMinus.toFixed(1)})`;
  const date = (day: string) =>
    new Intl.DateTimeFormat("en-GB", {
      day: "numeric",
      month: "short",
      year: "numeric",
      timeZone: "UTC",
    }).format(new Date(`${day}T00:00:00Z`));
  const when =
    pace.meets === null
      ? "at this pace the end is not in sight"
      : `all ${pace.goal} by ${date(pace.meets)}${pace.earliest && pace.latest && pace.earliest !== pace.latest ? `, between ${date(pace.earliest)} and ${date(pace.latest)}` : ""}`;
  return `${pace.done} of ${pace.goal} lines met; ${rate}; ${when}.`;
}

/** What is ready of something on a programme, and what is next. */
export function readyText({ states, next, clean, met }: ReadyOf): string {
  if (states) {
    const bars = next
      ? next.firstBar === next.lastBar
        ? `bar ${next.firstBar}`
        : `bars ${next.firstBar} to ${next.lastBar}`
      : "";
    if (next) return `Next: ${next.name ? `${next.name}, ` : ""}${bars}, ${next.state}.`;
    return states.unseen > 0 ? `${states.unseen} bars are in no passage yet.` : "All of it is ready.";
  }
  if (clean)
    return `Takes of ${clean.players === 1 ? "1 player" : `${clean.players} players`}: ${percent(clean.share)} clean in the middle.`;
  return met ? "Met in class; nobody has sent a take." : "Not met in class yet.";
}

interface ReadyOf {
  states: Record<PassageState, number> | null;
  next: Passage | null;
  clean: { share: number; players: number } | null;
  met: boolean;
}

/** When a concert has all its lines, in the draft of a term. */
export function metByText({ name, date, metOn }: TermDraft["goals"][number]): string {
  if (metOn === null) return `${name}: not every line is met by then.`;
  const early = daysBetween(metOn, date);
  return early >= 0
    ? `${name}: every line met ${early === 0 ? "on the day" : `${days(early)} before`}.`
    : `${name}: the last line is met ${days(-early)} too late.`;
}

/** "3:05" for what sounds 185 seconds. */
export function lengthText(seconds: number): string {
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}
