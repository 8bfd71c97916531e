import { signatureAlter } from "../music";
import type { SoundingNote, Timeline } from "../score";
import { inOrder, type PlayAlong, type PlayAlongEvent } from "./events";

/** One thing that can be wrong with a line that is otherwise right. */
export type Fault =
  | "key-ignored"
  | "rushed-slur"
  | "wavering-tone"
  | "swelling-tone"
  | "changing-tone"
  | "clipped-notes"
  | "re-tongued-slur"
  | "slur-as-tie"
  | "pushed-release";

/** Rushed notes come after this share of the time they should. */
const RUSHED = 0.72;
/** A wavering tone swings this far and this fast. */
const WAVER = { cents: 45, hz: 4.5 };
/** Held notes are at least this long, seconds. */
const HELD_SEC = 0.8;
const CLIPPED = 0.4;

/** What a section often does with a line: one of the faults, or certain notes played as others, left out, or tongued anew. */
export type SectionFault =
  | { kind: Fault }
  /** Those notes, so many semitones away. */
  | { kind: "played-as"; eventIds: readonly string[]; semitones: number }
  | { kind: "left-out"; eventIds: readonly string[] };

/** The same play-along as a section often plays it; everything else stays as it is. */
export function asTheSectionPlays(plan: PlayAlong, line: Timeline, fault: SectionFault): PlayAlong {
  switch (fault.kind) {
    case "played-as": {
      const wrong = new Set(fault.eventIds);
      const heard = (event: PlayAlongEvent): PlayAlongEvent =>
        event.kind === "note" && event.midi !== undefined && wrong.has(event.eventId ?? "")
          ? { ...event, midi: event.midi + fault.semitones }
          : event;
      return { ...plan, events: plan.events.map(heard) };
    }
    case "left-out": {
      const gone = new Set(fault.eventIds);
      return {
        ...plan,
        events: plan.events.filter(({ kind, eventId }) => kind !== "note" || !gone.has(eventId ?? "")),
      };
    }
    default:
      return withFault(plan, line, fault.kind);
  }
}

/** The faults a line can have: no signature cannot be ignored, without slurs or eighths nothing is rushed. */
export function faultsFor(line: Timeline): Fault[] {
  const held = line.notes.some((note) => note.midi !== null && note.durationSec >= HELD_SEC);
  const slurs = line.notes.some(({ slurred }) => slurred);
  const possible: Record<Fault, boolean> = {
    "key-ignored": line.notes.some((note) => naturalised(note) !== 0),
    "rushed-slur": hurriedRuns(line).length > 0,
    "wavering-tone": held,
    "swelling-tone": held,
    "changing-tone": held,
    "clipped-notes": line.notes.some((note) => note.midi !== null),
    "re-tongued-slur": slurs,
    "slur-as-tie": slurs,
    "pushed-release": held,
  };
  return (Object.keys(possible) as Fault[]).filter((fault) => possible[fault]);
}

/**
 * The same play-along with one fault; everything else, click and count-off too, stays as it is.
 * @param plan  of this line, its notes in the line's order
 */
export function withFault(plan: PlayAlong, line: Timeline, fault: Fault): PlayAlong {
  if (fault === "slur-as-tie") return { ...plan, events: slursHeld(plan.events) };
  const moved = fault === "rushed-slur" ? rushedOnsets(line) : null;
  let index = -1;
  const faulty = (event: PlayAlongEvent, note: SoundingNote, at: number): PlayAlongEvent => {
    switch (fault) {
      case "key-ignored":
        return event.midi === undefined ? event : { ...event, midi: event.midi + naturalised(note) };
      case "rushed-slur": {
        const { bySec, durationSec } = moved![at]!;
        return { ...event, atSec: event.atSec + bySec, durationSec };
      }
      case "wavering-tone":
        return event.durationSec! >= HELD_SEC ? { ...event, waver: WAVER } : event;
      case "swelling-tone":
        return event.durationSec! >= HELD_SEC ? { ...event, shape: "swells" } : event;
      case "changing-tone":
        return event.durationSec! >= HELD_SEC ? { ...event, shape: "darkens" } : event;
      case "pushed-release":
        return event.durationSec! >= HELD_SEC ? { ...event, shape: "pushed-off" } : event;
      case "re-tongued-slur": {
        const { slursOn: _on, slurred: _in, ...tongued } = event;
        return tongued;
      }
      case "clipped-notes": {
        const { slursOn: _on, slurred: _in, ...plain } = event;
        return { ...plain, durationSec: CLIPPED * event.durationSec! };
      }
    }
  };
  const events = plan.events.map((event) => {
    if (event.kind !== "note") return event;
    index++;
    return faulty(event, line.notes[index]!, index);
  });
  return { ...plan, events: inOrder(events) };
}

/** The curve between two notes read as a tie: the first is held through, the others never come. */
function slursHeld(events: readonly PlayAlongEvent[]): PlayAlongEvent[] {
  const kept: PlayAlongEvent[] = [];
  let open: PlayAlongEvent | undefined;
  for (const event of events) {
    if (event.kind === "note" && event.slurred && open) {
      open.durationSec = event.atSec + event.durationSec! - open.atSec;
      if (!event.slursOn) delete open.slursOn;
      continue;
    }
    const own = { ...event };
    kept.push(own);
    if (event.kind === "note") open = own;
  }
  return kept;
}

/** Semitones by which a note moves when its signature is ignored; accidentals beside the signature stay. */
function naturalised({ written, fifths }: SoundingNote): number {
  const alter = written ? signatureAlter(fifths, written.letter) : 0;
  return alter !== 0 && written!.alter === alter ? -alter : 0;
}

/** Runs of notes that tempt to hurry: slurred into one another, or eighths and shorter; first and last index. */
function hurriedRuns({ notes }: Timeline): [number, number][] {
  const runs: [number, number][] = [];
  let from = 0;
  for (let i = 1; i <= notes.length; i++) {
    const note = notes[i];
    const before = notes[i - 1]!;
    const joined =
      note &&
      (note.slurred || (before.durationQuarters <= 0.5 && note.durationQuarters <= 0.5)) &&
      Math.abs(before.onsetQuarters + before.durationQuarters - note.onsetQuarters) < 1e-6;
    if (joined) continue;
    if (i - 1 > from) runs.push([from, i - 1]);
    from = i;
  }
  return runs;
}

/** Inside a run each note comes early; the last one waits for the beat after it. */
function rushedOnsets(line: Timeline): { bySec: number; durationSec: number }[] {
  const moved = line.notes.map((note) => ({ bySec: 0, durationSec: note.durationSec }));
  for (const [from, to] of hurriedRuns(line)) {
    const start = line.notes[from]!.onsetSec;
    for (let i = from; i <= to; i++) {
      const note = line.notes[i]!;
      const onset = start + RUSHED * (note.onsetSec - start);
      const end =
        i < to ? start + RUSHED * (line.notes[i + 1]!.onsetSec - start) : note.onsetSec + note.durationSec;
      moved[i] = { bySec: onset - note.onsetSec, durationSec: end - onset };
    }
  }
  return moved;
}
