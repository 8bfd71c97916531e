import type { AloneStep, Doing, FirstNote, ReadBars, RoomNote, RoomWay, WallView } from "../../core/room";

export const WAY_NAMES: Record<RoomWay, string> = {
  play: "play",
  call: "call and answer",
  sing: "sing and finger",
  say: "say and finger",
  clap: "clap and count",
};

/** What the class does, over the board. */
export const WAY_ASKS: Record<RoomWay, string> = {
  play: "",
  call: "Listen two bars, then answer.",
  sing: "Sing it, fingers moving.",
  say: "Say the names, fingers moving.",
  clap: "Clap it and count aloud.",
};

export const VIEW_NAMES: Record<WallView, string> = {
  board: "names",
  notes: "notes",
  who: "who plays",
  tuning: "tuning",
};

export const FIRST_NOTE_NAMES: Record<FirstNote, string> = {
  none: "no first note",
  two: "first note, two beats",
  "three-one": "first note, three plus one",
};

/** Large over the board before every start. */
export function fromBarToBar(numbers: readonly string[], from: number, to: number): string {
  const [a, b] = [numbers[from], numbers[to - 1]];
  if (a === undefined || b === undefined) return "";
  if (from === 0 && to === numbers.length) return "From the beginning to the end";
  const name = (number: string) => (number === "0" ? "the pickup" : `bar ${number}`);
  return a === b ? `Only ${name(a)}` : `From ${name(a)} to ${name(b)}`;
}

const BARS_PROBLEMS: Record<Extract<ReadBars, { problem: string }>["problem"], string> = {
  "not-bars": "Type bars like 5-8, or 3, 7-8.",
  "no-such-bar": "This line has no such bar.",
  backwards: "The last bar comes before the first.",
  "too-many": "Join six places at most.",
};
export const barsProblem = (problem: keyof typeof BARS_PROBLEMS) => BARS_PROBLEMS[problem];

export function doingText(doing: Doing, numbers: readonly string[]): string {
  if (doing.kind === "plays") return "play";
  if (doing.kind === "rests") return "rest";
  const number = numbers[doing.bar] ?? "";
  return number === "0" ? "enter in the pickup" : `enter in bar ${number}`;
}

/** "4:05"; a minus where it runs over. */
export function minutesLeft(seconds: number): string {
  const whole = Math.abs(Math.round(seconds));
  const text = `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
  return seconds < -0.5 ? `−${text}` : text;
}

/** The time of day a lesson ends, on the device's clock. */
export function clockText(ms: number): string {
  const at = new Date(ms);
  return `${String(at.getHours()).padStart(2, "0")}:${String(at.getMinutes()).padStart(2, "0")}`;
}

/** How many minutes one time of the day is after another, negative before it: "09:40" and "10:05" are 25. */
export function minutesAfter(from: string, to: string): number {
  const minutes = (time: string) => 60 * Number(time.slice(0, 2)) + Number(time.slice(3, 5));
  return minutes(to) - minutes(from);
}

/** One tap of the log in a sentence. */
export function noteText(
  note: RoomNote,
  nameOf: (playerId: string) => string,
  instrumentOf: (instrumentId: string) => string,
): string {
  const where = "bars" in note && note.bars ? `bars ${note.bars}` : "";
  const who = "instruments" in note ? note.instruments.map(instrumentOf).join(", ") : "";
  const place = [where, who].filter(Boolean).join(", ");
  switch (note.kind) {
    case "tag":
      return [note.tag, place].filter(Boolean).join(": ");
    case "star":
      return `For next time${place ? `: ${place}` : ""}`;
    case "absent":
      return `Absent: ${nameOf(note.playerId)}`;
    case "hands":
      return `${note.up} hands${note.question ? ` for “${note.question}”` : ""}`;
    case "dynamics":
      return `${note.dynamic}${place ? `: ${place}` : ""}`;
    case "tempo":
      return `Played at ${note.bpm}`;
  }
}

/** What somebody who stands in does, in plain words. Nobody needs to read music for it. */
export function aloneText(
  step: AloneStep,
  block: { title: string; kind: string },
  instruments: string,
): string {
  switch (step.kind) {
    case "words":
      return block.kind === "text" || block.kind === "cards" || block.kind === "worksheet"
        ? `Now: ${block.title}. Let them begin, and press Next when they are done.`
        : `Now: ${block.title}. Ask everybody to find it. Press Next when they are ready.`;
    case "look":
      return "Instruments down. Give them half a minute to look: what is the key, which notes are new? Take two answers, then press Next.";
    case "clap":
      return "No instruments. Press Play: the wall counts four, then everybody claps the rhythm and counts aloud.";
    case "say":
      return "Press Play. Everybody says the names on the wall in time and moves the fingers, without a sound.";
    case "hear":
      return "Press Play and let them only listen, with a finger on the notes.";
    case "slow":
      return "Instruments up. Press Play: the wall gives the first note, counts, and everybody plays, slowly.";
    case "section":
      return `Only ${instruments} play now, the others move their fingers. Press Play. Listen whether they start and end together.`;
    case "play":
      return "Now everybody, in tempo. Press Play.";
    case "again":
      return "Once more. Ask for hands before you go on: better, the same, or worse than the time before?";
    case "done":
      return "That was this one. If it still falls apart, go back one step; if not, press Next.";
  }
}

/** The same for a child at home, alone with the own part. */
export function byOneselfText(step: AloneStep, block: { title: string; kind: string }): string {
  switch (step.kind) {
    case "words":
      return `Now: ${block.title}. Go on when you are ready.`;
    case "look":
      return "Look at it first. Which note is new? Where do you breathe?";
    case "clap":
      return "Press Play. After the count, clap it and count aloud.";
    case "say":
      return "Press Play. Say the names in time and move your fingers.";
    case "hear":
      return "Press Play and listen, with a finger on the notes.";
    case "slow":
      return "Press Play. Take the first note, wait for the count, and play slowly.";
    case "section":
    case "play":
      return "Now in tempo. Press Play.";
    case "again":
      return "Once more. Was it better, the same, or worse?";
    case "done":
      return "Done. If it falls apart, go one step back.";
  }
}
