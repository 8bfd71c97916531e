import { useRef, useState } from "react";
import type { Assessment } from "../../core/listen";
import type { TakeDetail } from "../../services/listening/wire";
import type { WaveformHandle } from "../../ui/Waveform";
import type { Finding, Spot } from "../../ui/wording";

const SLOW = 0.6;
/** A finding is heard from so long before it, seconds. */
const LEAD_SEC = 1;

/** Hearing a take: playing, the place that is heard, the note that is chosen, slower, and whether it was met at all. */
export function useListening(take: TakeDetail, shown: Assessment | null, found: readonly Finding[]) {
  const wave = useRef<WaveformHandle>(null);
  const [sec, setSec] = useState(0);
  const [playing, setPlaying] = useState(false);
  const [slow, setSlow] = useState(false);
  const [failed, setFailed] = useState(false);
  const [spot, setSpot] = useState<Spot | null>(null);
  /** A note that was clicked, by its place in the assessment. */
  const [clicked, setClicked] = useState<number | null>(null);
  /** It was heard, or one of its findings was looked at. */
  const [met, setMet] = useState(false);
  const places = found.flatMap(({ spots }) => spots);
  const at = places.findIndex((each) => sameSpot(each, spot));
  const notes = shown?.notes ?? [];
  const sounding = notes.findLast(
    (note) => note.onset !== null && note.onset <= sec + 0.02 && (note.offset ?? 0) > sec - 0.15,
  );
  const chosen =
    notes.find(({ index }) => index === (clicked ?? spot?.noteIndex)) ??
    sounding ??
    notes.findLast(({ onset }) => onset !== null && onset <= sec);

  const goTo = (to: Spot | undefined, loop: boolean) => {
    if (!to) return;
    setSpot(to);
    setClicked(null);
    setMet(true);
    wave.current?.playFrom(Math.max(0, to.atSec - LEAD_SEC), loop ? to.untilSec + 0.4 : undefined);
  };
  return {
    wave,
    sec,
    playing,
    slow,
    failed,
    met,
    /** The place that is heard now. */
    spot: places[at],
    /** The finding it belongs to. */
    finding: found.find(({ spots }) => spots.some((each) => sameSpot(each, spot))),
    /** The note that is chosen, or sounding. */
    chosen,
    clicked,
    cursorId: sounding?.eventId ?? null,
    goTo,
    next: () => goTo(places[Math.min(places.length - 1, at + 1)], false),
    previous: () => goTo(places[Math.max(0, at - 1)], false),
    loop: () => goTo(places[Math.max(0, at)], true),
    /** Plays from a note of the part, a second before it; its finding becomes the open one. */
    fromNote: (eventId: string) => {
      const own = places.find((each) => each.eventId === eventId);
      if (own) return goTo(own, false);
      const note = notes.find((each) => each.eventId === eventId && each.onset !== null);
      if (!note) return;
      setSpot(null);
      setClicked(note.index);
      setMet(true);
      wave.current?.playFrom(Math.max(0, note.onset! - LEAD_SEC));
    },
    playAt: (at: number) => {
      setMet(true);
      wave.current?.playFrom(Math.max(0, at - 0.3));
    },
    playPause: () => {
      setMet(true);
      wave.current?.playPause();
    },
    toggleSlow: () => {
      wave.current?.setRate(slow ? 1 : SLOW);
      setSlow(!slow);
    },
    waveform: {
      url: `/api/takes/${take.id}/sound`,
      peaks: take.peaks,
      seconds: take.seconds,
      onTime: setSec,
      onPlaying: setPlaying,
      onFailed: () => setFailed(true),
    },
  };
}

export type Listening = ReturnType<typeof useListening>;

function sameSpot(a: Spot, b: Spot | null): boolean {
  return b !== null && a.place === b.place && a.atSec === b.atSec;
}
