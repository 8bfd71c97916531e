import { useEffect, useRef, useState } from "react";
import { FIRST_NOTES, ROOM_WAYS, tapTempo, WALL_VIEWS, type WallCommand } from "../../core/room";
import type { Wall } from "./use-wall";

const NAMINGS = ["letters", "solfege", "numbers"] as const;

/** What the keys of the wall do, for the sheet. */
export const WALL_KEYS: [string, string][] = [
  ["Space", "play or stop"],
  ["→ ←", "next block, the one before"],
  ["↑ ↓", "faster, slower by 2"],
  ["T", "tap the tempo"],
  ["5-8 Enter", "bars 5 to 8; 3, 7-8 joins two places"],
  ["A", "all of it"],
  ["O", "round and round"],
  ["R", "a step faster after a clean pass"],
  ["V", "names, notes, who plays, tuning"],
  ["I", "the next instrument's notes"],
  ["W", "play, answer, sing, say, clap"],
  ["N", "letters, do re mi, numbers"],
  ["F", "fingerings"],
  ["C", "concert pitch"],
  ["G", "how the first note is given"],
  ["B", "bars counted before"],
  ["U", "clicks to a beat"],
  ["D", "tuning note"],
  ["P", "fifteen seconds, each alone"],
  ["E", "a minute more for this block"],
  ["S", "leave this block out"],
  ["M", "dark or light"],
  ["?", "this sheet"],
];

/** The wall by keys: letters act, digits are bars. @returns the bars that are being typed */
export function useWallKeys(wall: Wall, toggleHelp: () => void): string {
  const [typed, setTyped] = useState("");
  const taps = useRef<number[]>([]);
  const latest = useRef({ wall, typed, toggleHelp });
  latest.current = { wall, typed, toggleHelp };
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const { wall: now, typed: digits, toggleHelp: help } = latest.current;
      if (event.ctrlKey || event.metaKey || event.altKey || target.matches("input, textarea, select")) return;
      if (target.matches("button, a, summary") && (event.key === " " || event.key === "Enter")) return;
      if (/^[\d,-]$/.test(event.key)) {
        event.preventDefault();
        return setTyped((before) => (before + event.key).slice(0, 20));
      }
      if (digits !== "" && ["Enter", "Backspace", "Escape"].includes(event.key)) {
        event.preventDefault();
        if (event.key === "Enter") now.command({ kind: "bars", bars: digits });
        return setTyped((before) => (event.key === "Backspace" ? before.slice(0, -1) : ""));
      }
      if (event.key === "?") {
        event.preventDefault();
        return help();
      }
      if (event.key.toLowerCase() === "t") {
        if (event.repeat) return;
        taps.current = [...taps.current.slice(-7), event.timeStamp];
        const bpm = tapTempo(taps.current);
        return bpm === null ? undefined : now.command({ kind: "tempo", bpm });
      }
      const word = commandOf(event.key, now);
      if (!word) return;
      event.preventDefault();
      // A key that is leaned on acts once; only the tempo goes on.
      if (event.repeat && word.kind !== "faster") return;
      now.command(word);
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, []);
  return typed;
}

const after = <T>(all: readonly T[], now: T): T => all[(all.indexOf(now) + 1) % all.length]!;

function commandOf(key: string, { state, sheet, tune, bpm }: Wall): WallCommand | null {
  switch (key.length === 1 ? key.toLowerCase() : key) {
    case " ":
      return { kind: state.playing === null && !state.drone ? "play" : "stop" };
    case "ArrowRight":
    case "PageDown":
      return { kind: "next" };
    case "ArrowLeft":
    case "PageUp":
      return { kind: "back" };
    case "ArrowUp":
      return { kind: "faster", by: 2 };
    case "ArrowDown":
      return { kind: "faster", by: -2 };
    case "a":
      return { kind: "bars", bars: "" };
    case "o":
      return { kind: "loop" };
    case "r":
      return state.ramp ? { kind: "clean" } : { kind: "ramp", ramp: { by: 4, to: Math.min(208, bpm + 40) } };
    case "v":
      return { kind: "view", view: after(WALL_VIEWS, state.view) };
    case "i":
      return {
        kind: "part",
        part: after(
          ["concert", ...(tune?.rows.flatMap(({ instrumentIds }) => instrumentIds) ?? [])],
          state.part,
        ),
      };
    case "w":
      return { kind: "way", way: after(ROOM_WAYS, state.way) };
    case "n":
      return { kind: "naming", naming: after<string>(NAMINGS, state.naming) as (typeof NAMINGS)[number] };
    case "f":
      return { kind: "fingerings" };
    case "c":
      return { kind: "concert" };
    case "g":
      return { kind: "first-note", how: after(FIRST_NOTES, state.firstNote) };
    case "b":
      return { kind: "count", bars: (state.countBars % 2) + 1 };
    case "u":
      return { kind: "subdivide", by: ((state.subdivisions % 4) + 1) as 1 | 2 | 3 | 4 };
    case "d":
      return { kind: "drone" };
    case "p":
      return state.timer ? { kind: "timer-off" } : { kind: "timer", seconds: 15 };
    case "e":
      return { kind: "extend", minutes: 1 };
    case "s":
      return sheet.blocks.length > 1 ? { kind: "skip" } : null;
    case "m":
      return { kind: "dark" };
    default:
      return null;
  }
}
