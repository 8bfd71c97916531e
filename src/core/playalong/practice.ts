import { type Pitch, pitchToMidi } from "../music";
import { type Measure, type Score, type ScoreEvent, type Timeline, timeline } from "../score";
import {
  barClicks,
  inOrder,
  type PlayAlong,
  type PlayAlongEvent,
  type PlayAlongOptions,
  playAlong,
} from "./events";

/** Silence between two phases, seconds: time to breathe. */
const BETWEEN_SEC = 1;

/**
 * Some bars of a line as a timeline of their own, from second 0.
 * @param from  index of the first in `line.measures` (played order)
 * @param to    index after the last
 * @throws RangeError when there is no such stretch
 */
export function passage(line: Timeline, from: number, to: number): Timeline {
  const measures = line.measures.slice(from, to);
  const [first, last] = [measures[0], measures.at(-1)];
  if (from < 0 || !first || !last) throw new RangeError("There are no such bars in this line");
  const endQuarters = last.onsetQuarters + last.durationQuarters;
  const endSec = last.onsetSec + last.durationQuarters * last.secPerQuarter;
  const inside = line.notes.filter(
    (note) => note.onsetQuarters >= first.onsetQuarters - 1e-9 && note.onsetQuarters < endQuarters - 1e-9,
  );
  return {
    ...line,
    measures: measures.map((measure) => ({
      ...measure,
      onsetQuarters: measure.onsetQuarters - first.onsetQuarters,
      onsetSec: measure.onsetSec - first.onsetSec,
    })),
    notes: inside.map((note, index) => ({
      ...note,
      index,
      onsetQuarters: note.onsetQuarters - first.onsetQuarters,
      onsetSec: note.onsetSec - first.onsetSec,
      durationQuarters: Math.min(note.durationQuarters, endQuarters - note.onsetQuarters),
      durationSec: Math.min(note.durationSec, endSec - note.onsetSec),
    })),
    totalQuarters: endQuarters - first.onsetQuarters,
    totalSec: endSec - first.onsetSec,
    heldRests: line.heldRests
      .filter((rest) => rest.onsetSec >= first.onsetSec - 1e-9 && rest.onsetSec < endSec - 1e-9)
      .map((rest) => ({ ...rest, onsetSec: rest.onsetSec - first.onsetSec })),
    pickupOffsetQuarters: from === 0 ? line.pickupOffsetQuarters : 0,
  };
}

/** Plans one after another, each from its own count-off, with a breath between. */
export function oneAfterAnother(plans: { label: string; plan: PlayAlong }[]): PlayAlong {
  let at = 0;
  const phases: NonNullable<PlayAlong["phases"]> = [];
  const events: PlayAlongEvent[] = [];
  for (const { label, plan } of plans) {
    phases.push({ label, fromSec: at });
    for (const event of plan.events) events.push({ ...event, atSec: event.atSec + at });
    at += plan.totalSec + BETWEEN_SEC;
  }
  return {
    events: inOrder(events),
    startSec: plans[0]?.plan.startSec ?? 0,
    totalSec: Math.max(0, at - BETWEEN_SEC),
    phases,
  };
}

/** Names bars for a label: "bar 3", "bars 3 to 6", "the whole line". */
function barsLabel(line: Timeline, from: number, to: number): string {
  if (from === 0 && to === line.measures.length) return "the whole line";
  const [a, b] = [line.measures[from]!.number, line.measures[to - 1]!.number];
  const name = (number: string) => (number === "0" ? "the pickup" : `bar ${number}`);
  return a === b ? name(a) : a === "0" ? `the pickup to bar ${b}` : `bars ${a} to ${b}`;
}

function stretches(line: Timeline, parts: [number, number][], options: PlayAlongOptions): PlayAlong {
  return oneAfterAnother(
    parts.map(([from, to]) => ({
      label: barsLabel(line, from, to),
      plan: playAlong(passage(line, from, to), options),
    })),
  );
}

/** First half, second half, then the whole; a line of one bar is played whole. A pickup belongs to its first half. */
export function inHalves(line: Timeline, options: PlayAlongOptions = {}): PlayAlong {
  const count = line.measures.length;
  if (count < 2) return stretches(line, [[0, count]], options);
  const pickup = line.pickupOffsetQuarters > 0 ? 1 : 0;
  const middle = Math.min(count - 1, pickup + Math.ceil((count - pickup) / 2));
  return stretches(
    line,
    [
      [0, middle],
      [middle, count],
      [0, count],
    ],
    options,
  );
}

/** The last bar, the last two, and so on to the whole line; a pickup comes with its first bar. */
export function backwards(line: Timeline, options: PlayAlongOptions = {}): PlayAlong {
  const count = line.measures.length;
  const pickup = line.pickupOffsetQuarters > 0 && count > 1;
  const starts = Array.from({ length: count }, (_, i) => count - 1 - i).filter(
    (from) => !(pickup && from === 1),
  );
  return stretches(
    line,
    starts.map((from) => [from, count]),
    options,
  );
}

/** The whole line at one tempo after another, slowest first as given. @throws RangeError for a tempo outside SLOWEST_BPM to FASTEST_BPM */
export function tempoLadder(
  score: Score,
  bpms: readonly number[],
  options: PlayAlongOptions = {},
): PlayAlong {
  return oneAfterAnother(
    bpms.map((bpm) => ({ label: `${bpm} bpm`, plan: playAlong(timeline(score, { bpm }), options) })),
  );
}

/**
 * So many bars are played, then the same bars are the player's: the click goes on, the cursor moves, nothing sounds.
 * One count-off at the beginning; there is no break between call and response.
 * @param bars  length of a call, at least 1
 */
export function callAndResponse(line: Timeline, bars: number, options: PlayAlongOptions = {}): PlayAlong {
  if (!(Number.isInteger(bars) && bars >= 1)) throw new RangeError("A call has at least one bar");
  const pickup = line.pickupOffsetQuarters > 0 ? 1 : 0;
  const events: PlayAlongEvent[] = [];
  const phases: NonNullable<PlayAlong["phases"]> = [];
  let at = 0;
  let startSec = 0;
  let before: Timeline | undefined;
  for (let from = 0; from < line.measures.length; ) {
    const to = Math.min(line.measures.length, from + bars + (from === 0 ? pickup : 0));
    const part = passage(line, from, to);
    for (const turn of ["call", "response"] as const) {
      const first = from === 0 && turn === "call";
      const plan = playAlong(part, {
        ...options,
        countOff: first,
        startingNote: first && (options.startingNote ?? false),
      });
      if (first) startSec = plan.startSec;
      if (before) {
        const pause = pauseBefore(part, before, options.subdivisions ?? 1);
        for (const click of pause.events) events.push({ ...click, atSec: click.atSec + at });
        at += pause.seconds;
      }
      before = part;
      phases.push({ label: `${turn}: ${barsLabel(line, from, to)}`, fromSec: at });
      for (const event of plan.events)
        events.push({
          ...event,
          atSec: event.atSec + at,
          ...(turn === "response" && event.kind === "note" ? { silent: true as const } : {}),
        });
      at += plan.totalSec;
    }
    from = to;
  }
  return { events: inOrder(events), startSec, totalSec: at, phases };
}

/**
 * What is left between two stretches that follow each other in one pulse: the rest of a short last bar, and as much of a
 * bar as comes before the next one's pickup. The click goes on in it.
 */
function pauseBefore(
  next: Timeline,
  before: Timeline,
  subdivisions: number,
): { seconds: number; events: PlayAlongEvent[] } {
  const last = before.measures.at(-1)!;
  const offset = before.measures.length === 1 ? before.pickupOffsetQuarters : 0;
  const over = offset + last.durationQuarters;
  const left = Math.max(0, last.barQuarters - over);
  const pickup = next.pickupOffsetQuarters > 0 ? next.measures[0]!.durationQuarters : 0;
  const quarters = pickup > 0 && left >= pickup - 1e-9 ? left - pickup : left + next.pickupOffsetQuarters;
  return {
    seconds: quarters * last.secPerQuarter,
    events: barClicks(last, over % last.barQuarters, quarters, subdivisions),
  };
}

/**
 * The line's rhythm on one comfortable note: first the rhythm, then the notes. Slurred notes become one held sound, as they
 * would be on one note: no attack is played or expected inside a slur.
 */
export function onOneNote(score: Score, pitch: Pitch): Score {
  const [first] = score.parts;
  const open = new Set<number>();
  const events = (measure: Measure): ScoreEvent[] =>
    measure.events.map((event) => {
      const inSlur = open.size > 0;
      if (event.slurStop !== undefined) open.delete(event.slurStop);
      if (event.slurStart !== undefined) open.add(event.slurStart);
      if (!event.pitch) return event;
      const { slurStart: _on, slurStop: _off, ...plain } = event;
      return {
        ...plain,
        pitch,
        ...(inSlur ? { tieStop: true as const } : {}),
        ...(open.size > 0 ? { tieStart: true as const } : {}),
      };
    });
  return {
    ...score,
    parts: [
      { ...first, measures: first.measures.map((measure) => ({ ...measure, events: events(measure) })) },
    ],
  };
}

const NOTE_SEC = 1;

/**
 * Two notes and a change between them that has less time at every turn: six seconds, five, four ... until it is in time
 * (common practice, no published source). The seconds of the gap click and are counted down.
 * @param gaps  seconds for each change, longest first; the last may be a fraction
 */
export function changeDrill(
  from: Pitch,
  to: Pitch,
  gaps: readonly number[] = [6, 5, 4, 3, 2, 1, 0.5],
): PlayAlong {
  if (gaps.length === 0 || gaps.some((gap) => !(gap > 0 && gap <= 20)))
    throw new RangeError("A change has more than no time and at most 20 seconds");
  const events: PlayAlongEvent[] = [];
  const phases: NonNullable<PlayAlong["phases"]> = [];
  let at = 0;
  for (const gap of gaps) {
    phases.push({ label: `${gap} s for the change`, fromSec: at });
    events.push({ atSec: at, kind: "note", accent: true, midi: pitchToMidi(from), durationSec: NOTE_SEC });
    for (let sec = 0; sec < gap; sec++)
      events.push({
        atSec: at + NOTE_SEC + sec,
        kind: "count",
        accent: sec === 0,
        text: String(Math.ceil(gap - sec)),
      });
    events.push({
      atSec: at + NOTE_SEC + gap,
      kind: "note",
      accent: true,
      midi: pitchToMidi(to),
      durationSec: NOTE_SEC,
    });
    at += 2 * NOTE_SEC + gap + BETWEEN_SEC;
  }
  return { events: inOrder(events), startSec: 0, totalSec: at - BETWEEN_SEC, phases };
}

/**
 * A line is heard, then it is the player's, in time and without a break: the click goes on, nothing sounds.
 * @returns the plan, and the second from which the player is on
 */
export function heardThenYours(
  line: Timeline,
  options: PlayAlongOptions = {},
): { plan: PlayAlong; yoursFromSec: number } {
  const heard = playAlong(line, options);
  const yours = playAlong(line, { ...options, countOff: false, startingNote: false });
  const pause = pauseBefore(line, line, options.subdivisions ?? 1);
  const at = heard.totalSec + pause.seconds;
  const clicks = pause.events.map((click) => ({ ...click, atSec: click.atSec + heard.totalSec }));
  const events = yours.events.map(
    (event): PlayAlongEvent => ({
      ...event,
      atSec: event.atSec + at,
      ...(event.kind === "note" ? { silent: true as const } : {}),
    }),
  );
  return {
    plan: {
      events: inOrder([...heard.events, ...clicks, ...events]),
      startSec: heard.startSec,
      totalSec: at + yours.totalSec,
      phases: [
        { label: "listen", fromSec: 0 },
        { label: "your turn", fromSec: at },
      ],
    },
    yoursFromSec: at,
  };
}

/** Silence between two spoken reminders, and before the play-along, seconds. */
const AFTER_WORDS_SEC = 0.6;

/**
 * A play-along that begins with words: everything moves back by their length.
 * @param seconds  length of each reminder, in the order they are said
 * @returns the plan, and the second at which each reminder begins
 */
export function afterWords(
  plan: PlayAlong,
  seconds: readonly number[],
): { plan: PlayAlong; wordsAtSec: number[] } {
  const wordsAtSec: number[] = [];
  let by = 0;
  for (const length of seconds) {
    wordsAtSec.push(by);
    by += length + AFTER_WORDS_SEC;
  }
  return {
    wordsAtSec,
    plan: {
      events: plan.events.map((event) => ({ ...event, atSec: event.atSec + by })),
      startSec: plan.startSec + by,
      totalSec: plan.totalSec + by,
      ...(plan.phases
        ? { phases: plan.phases.map((phase) => ({ ...phase, fromSec: phase.fromSec + by })) }
        : {}),
    },
  };
}
