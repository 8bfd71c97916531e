import { useEffect, useRef, useState } from "react";
import type { Assessment } from "../core/listen";
import type { Score } from "../core/score";
import { type BarPlace, barPlaces, drawLanes, makeRoom, type NotePlace, notePlaces } from "./lanes";

interface Props {
  /** Engraved on the server; note groups carry event ids. */
  svg: string;
  label: string;
  /** Draws bead lanes when given. */
  lanes?: { assessment: Assessment; score: Score; pass: number; inTuneCents: number } | null;
  /** The notehead that sounds now. */
  cursorId?: string | null;
  /** The note a beat ahead: its system is brought into view before it is reached. */
  aheadId?: string | null;
  /** Bars by index that are played now: they stay, the others step back. */
  passage?: { from: number; to: number } | undefined;
  /** Noteheads that were found, ringed. */
  rings?: readonly string[];
  /** Noteheads ringed as spots, with their numbers. */
  marks?: { eventId: string; number: number }[];
  onNote?: (eventId: string) => void;
  /** Called with the note nearest a click; the keyboard chooses notes from a list beside it. */
  pick?: ((eventId: string) => void) | undefined;
  /** Stretches of notes with a bracket above them. */
  brackets?: { fromEventId: string; toEventId: string; label: string }[];
}

/** An engraved part with overlays placed by event id. Noteheads themselves are never recoloured. */
export function Notation({
  svg,
  label,
  lanes,
  cursorId,
  aheadId,
  passage,
  rings,
  marks,
  onNote,
  pick,
  brackets,
}: Props) {
  const sheet = useRef<HTMLDivElement>(null);
  const overlay = useRef<SVGSVGElement>(null);
  const [places, setPlaces] = useState<Map<string, NotePlace>>(new Map());
  const [bars, setBars] = useState<BarPlace[]>([]);
  const withLanes = Boolean(lanes);

  useEffect(() => {
    const frame = sheet.current;
    const holder = frame?.querySelector<HTMLDivElement>(".engraved");
    if (!frame || !holder) return;
    let laidOut = 0;
    const lay = () => {
      holder.innerHTML = svg;
      const picture = holder.querySelector("svg");
      // Not shown yet: nothing can be measured, and the observer calls again when there is room.
      if (!picture || picture.getBoundingClientRect().width === 0) return;
      laidOut = frame.clientWidth;
      if (withLanes) makeRoom(picture);
      setPlaces(notePlaces(frame, picture));
      setBars(barPlaces(frame, picture));
    };
    lay();
    const observer = new ResizeObserver(() => {
      if (frame.clientWidth !== laidOut) lay();
    });
    observer.observe(frame);
    return () => observer.disconnect();
  }, [svg, withLanes]);

  useEffect(() => {
    if (!overlay.current) return;
    if (lanes)
      drawLanes(overlay.current, places, lanes.assessment, lanes.score, lanes.pass, lanes.inTuneCents);
    else overlay.current.replaceChildren();
  }, [places, lanes]);

  const ahead = aheadId ? places.get(aheadId) : undefined;
  const aheadTop = ahead?.top;
  useEffect(() => {
    if (sheet.current && aheadTop !== undefined) bringIntoView(sheet.current, aheadTop, ahead!.bottom);
  }, [aheadTop, ahead]);

  const cursor = cursorId ? places.get(cursorId) : undefined;
  const sounding = cursorId ? bars.find(({ noteIds }) => noteIds.includes(cursorId)) : undefined;
  return (
    <div ref={sheet} className="sheet relative">
      {sounding && (
        <div
          data-testid="sounding-bar"
          className="absolute rounded bg-reed/40 mix-blend-multiply"
          style={box(sounding, withLanes ? 68 : 6)}
        />
      )}
      {cursor && (
        <div
          data-testid="cursor"
          className="absolute rounded bg-reed mix-blend-multiply"
          style={{
            left: cursor.x - 13,
            width: 26,
            top: Math.max(0, cursor.top - 6),
            height: cursor.bottom + (withLanes ? 68 : 6) - Math.max(0, cursor.top - 6),
          }}
        />
      )}
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: a list of the notes beside the music does the same by keyboard */}
      <div
        className={`engraved relative ${pick ? "cursor-pointer" : ""}`}
        role="img"
        aria-label={label}
        onClick={(event) => {
          const origin = sheet.current!.getBoundingClientRect();
          const nearest = nearestNote(places, event.clientX - origin.left, event.clientY - origin.top);
          if (nearest) pick?.(nearest);
        }}
      />
      {passage &&
        bars.map((bar, index) =>
          index < passage.from || index > passage.to ? (
            <div
              key={index}
              className="pointer-events-none absolute bg-base-100 opacity-65"
              data-testid="other-bar"
              style={box(bar, 6)}
            />
          ) : null,
        )}
      {rings?.map((eventId) => {
        const place = places.get(eventId);
        return place ? (
          <div
            key={eventId}
            data-testid="ring"
            className="pointer-events-none absolute w-7 rounded-full border-2 border-accent"
            style={{ left: place.x - 14, top: place.top - 2, height: place.bottom - place.top + 4 }}
          />
        ) : null;
      })}
      <svg
        ref={overlay}
        className="pointer-events-none absolute inset-0 h-full w-full"
        aria-hidden="true"
        data-testid="bead-lanes"
      />
      {brackets?.map(({ fromEventId, toEventId, label }) => {
        const [from, to] = [places.get(fromEventId), places.get(toEventId)];
        if (!from || !to) return null;
        // Across a line break the bracket stands on the second system, where the change is heard.
        const left = (from.system === to.system ? from.x : to.x) - 9;
        return (
          <div
            key={`${fromEventId}-${toEventId}-${label}`}
            data-testid="bracket"
            title={label}
            className="absolute h-2 rounded-t border-2 border-b-0 border-felt"
            style={{ left, width: to.x + 9 - left, top: Math.max(0, to.top - 12) }}
          />
        );
      })}
      {marks?.map(({ eventId, number }) => {
        const place = places.get(eventId);
        return place ? (
          <button
            key={`${eventId}-${number}`}
            type="button"
            onClick={() => onNote?.(eventId)}
            className="absolute flex h-5 w-5 items-center justify-center rounded-full bg-felt text-xs font-bold text-white"
            style={{ left: place.x - 10, top: Math.max(0, place.top - 20) }}
            aria-label={`Go to spot ${number}`}
          >
            {number}
          </button>
        ) : null;
      })}
    </div>
  );
}

/** The notehead of the clicked system that lies nearest in the line's direction. */
function nearestNote(places: ReadonlyMap<string, NotePlace>, x: number, y: number): string | undefined {
  const away = ({ top, bottom, x: at }: NotePlace) =>
    Math.abs(at - x) + 10 * Math.max(0, top - y, y - bottom);
  return [...places].sort(([, a], [, b]) => away(a) - away(b))[0]?.[0];
}

function box({ left, right, top, bottom }: BarPlace, below: number) {
  // What hangs over the first system reaches out of the sheet; the box does not.
  const from = Math.max(0, top - 6);
  return { left, width: right - left, top: from, height: bottom + below - from };
}

/** What stands over and under the music on a student's page, pixels: the system that is played next lies between. */
const COVERED = { top: 56, bottom: 104 };

/** Turns the page ahead of the beat: brings a system between what covers the edges of the window. */
function bringIntoView(sheet: HTMLElement, top: number, bottom: number): void {
  const origin = sheet.getBoundingClientRect().top;
  const [from, to] = [origin + top, origin + bottom];
  const seen = { from: COVERED.top, to: innerHeight - COVERED.bottom };
  if (from >= seen.from && to <= seen.to) return;
  const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
  scrollBy({ top: from - seen.from - 8, behavior: still ? "auto" : "smooth" });
}
