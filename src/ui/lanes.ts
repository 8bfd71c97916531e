import { type Assessment, type NoteVerdict, wasRecorded } from "../core/listen";
import type { Score } from "../core/score";
import { heardName } from "./wording";

/** Room under each system for the three strings, CSS pixels. */
const LANES_HEIGHT = 74;
const STRING_OFFSETS = { pitch: 16, time: 35, length: 54 };
const INK = "#16302F";
const FELT = "#7A2E5D";
const STRING = "#DDD6C7";
const QUIET = "#52615E";
/** How far the strings reach beyond the first and the last note of a system, and where they begin at the earliest, CSS pixels. */
const STRING_REACH = { left: 16, right: 24, from: 52 };
/** Where the device left notes out the strings have a hole, so far before the first and behind the last of them, CSS pixels. */
const HOLE_REACH = 13;
const SVG = "http://www.w3.org/2000/svg";

/**
 * Makes room under every system of an engraved part by moving systems down, and makes the picture taller by as much.
 * @returns pixels of the page to one of the inner picture's units
 */
export function makeRoom(svg: SVGSVGElement): void {
  if (svg.dataset.roomy) return;
  svg.dataset.roomy = "yes";
  const inner = svg.querySelector<SVGSVGElement>("svg.definition-scale");
  if (!inner) return;
  const scale = svg.getBoundingClientRect().width / svg.viewBox.baseVal.width;
  const innerScale = inner.viewBox.baseVal.width / svg.viewBox.baseVal.width;
  const step = LANES_HEIGHT / scale;
  const systems = inner.querySelectorAll<SVGGElement>("g.system");
  systems.forEach((system, index) => {
    system.setAttribute("transform", `translate(0 ${index * step * innerScale})`);
  });
  const extra = step * systems.length;
  const [, , width, height] = svg.getAttribute("viewBox")!.split(/\s+/).map(Number);
  const [, , innerWidth, innerHeight] = inner.getAttribute("viewBox")!.split(/\s+/).map(Number);
  svg.setAttribute("viewBox", `0 0 ${width} ${height! + extra}`);
  inner.setAttribute("viewBox", `0 0 ${innerWidth} ${innerHeight! + extra * innerScale}`);
}

export interface NotePlace {
  x: number;
  top: number;
  bottom: number;
  system: number;
}

/** Where each notehead lies on the page, in pixels from the sheet's corner. */
export function notePlaces(sheet: HTMLElement, svg: SVGSVGElement): Map<string, NotePlace> {
  const origin = sheet.getBoundingClientRect();
  const places = new Map<string, NotePlace>();
  svg.querySelectorAll<SVGGElement>("g.system").forEach((system, index) => {
    const box = system.getBoundingClientRect();
    for (const note of system.querySelectorAll<SVGGElement>("g.note, g.rest, g.mRest")) {
      const head = (note.querySelector(".notehead") ?? note).getBoundingClientRect();
      places.set(note.id, {
        x: head.left + head.width / 2 - origin.left,
        top: box.top - origin.top,
        bottom: box.bottom - origin.top,
        system: index,
      });
    }
  });
  return places;
}

/** Where each bar lies, in the order of the part, in pixels from the sheet's corner. */
export function barPlaces(sheet: HTMLElement, svg: SVGSVGElement): BarPlace[] {
  const origin = sheet.getBoundingClientRect();
  return [...svg.querySelectorAll<SVGGElement>("g.system")].flatMap((system) => {
    const box = system.getBoundingClientRect();
    return [...system.querySelectorAll<SVGGElement>("g.measure")].map((measure) => {
      // The staff, not what hangs over it: words and tempo marks reach into the next bar.
      const staff = (measure.querySelector("g.staff") ?? measure).getBoundingClientRect();
      return {
        left: staff.left - origin.left,
        right: staff.right - origin.left,
        top: box.top - origin.top,
        bottom: box.bottom - origin.top,
        noteIds: [...measure.querySelectorAll<SVGGElement>("g.note, g.rest, g.mRest")].map(({ id }) => id),
      };
    });
  });
}

export interface BarPlace {
  left: number;
  right: number;
  top: number;
  bottom: number;
  noteIds: string[];
}

/**
 * Draws the three strings and their beads for one pass of a take into an overlay.
 * @param inTuneCents  a note this near its pitch stays on the string
 */
export function drawLanes(
  overlay: SVGSVGElement,
  places: Map<string, NotePlace>,
  assessment: Assessment,
  score: Score,
  pass: number,
  inTuneCents: number,
): void {
  overlay.replaceChildren();
  const systems = new Map<number, { left: number; right: number; top: number }>();
  for (const place of places.values()) {
    const known = systems.get(place.system);
    systems.set(place.system, {
      left: Math.min(known?.left ?? 1e9, place.x),
      right: Math.max(known?.right ?? 0, place.x),
      top: place.bottom,
    });
  }
  for (const { left, right, top } of systems.values()) {
    for (const [name, offset] of Object.entries(STRING_OFFSETS)) {
      add(overlay, "line", {
        x1: Math.max(STRING_REACH.from, left - STRING_REACH.left),
        x2: right + STRING_REACH.right,
        y1: top + offset,
        y2: top + offset,
        stroke: STRING,
        "stroke-width": 1.5,
      });
      add(overlay, "text", { x: 6, y: top + offset + 4, fill: QUIET, "font-size": 12 }).textContent = name;
    }
  }
  const seen = new Map<string, number>();
  const shown: { note: NoteVerdict; place: NotePlace }[] = [];
  for (const note of assessment.notes) {
    const time = (seen.get(note.eventId) ?? 0) + 1;
    seen.set(note.eventId, time);
    const place = places.get(note.eventId);
    if (!place || (time !== pass && !(time < pass && lastTime(assessment, note.eventId) < pass))) continue;
    shown.push({ note, place });
    if (wasRecorded(note)) drawBeads(overlay, note, place, score, inTuneCents);
  }
  for (const hole of holesOf(shown)) drawHole(overlay, hole, systems.get(hole.system)!);
  for (const extra of assessment.extras) {
    const after = shown.findLast(({ note }) => note.onset !== null && note.onset <= extra.onset);
    if (!after) continue;
    const x = after.place.x + 13;
    const y = after.place.bottom + STRING_OFFSETS.pitch;
    add(overlay, "path", { d: `M${x - 4} ${y}h8M${x} ${y - 4}v8`, stroke: FELT, "stroke-width": 2.5 });
  }
}

function lastTime(assessment: Assessment, eventId: string): number {
  return assessment.notes.filter((note) => note.eventId === eventId).length;
}

interface Hole {
  system: number;
  first: number;
  last: number;
}

/** Notes in a row that were not recorded, system by system. */
function holesOf(shown: readonly { note: NoteVerdict; place: NotePlace }[]): Hole[] {
  const holes: Hole[] = [];
  shown.forEach(({ note, place: { x, system } }, at) => {
    if (wasRecorded(note)) return;
    const before = shown[at - 1];
    const open = before && !wasRecorded(before.note) && before.place.system === system;
    if (open) holes.at(-1)!.last = x;
    else holes.push({ system, first: x, last: x });
  });
  return holes;
}

function drawHole(
  overlay: SVGSVGElement,
  { first, last }: Hole,
  { left, right, top }: { left: number; right: number; top: number },
): void {
  const x1 = first === left ? STRING_REACH.from : first - HOLE_REACH;
  const x2 = last === right ? last + STRING_REACH.right + 1 : last + HOLE_REACH;
  for (const offset of Object.values(STRING_OFFSETS)) {
    const hole = add(overlay, "line", { x1, x2, y1: top + offset, y2: top + offset, "stroke-width": 4 });
    hole.style.stroke = "var(--color-base-100)";
    hole.dataset.leftOut = "";
  }
}

function drawBeads(
  overlay: SVGSVGElement,
  note: NoteVerdict,
  place: NotePlace,
  score: Score,
  inTuneCents: number,
): void {
  const { x, bottom } = place;
  const pitchY = bottom + STRING_OFFSETS.pitch;
  const timeY = bottom + STRING_OFFSETS.time;
  const lengthY = bottom + STRING_OFFSETS.length;
  if (note.verdict === "missed") {
    add(overlay, "circle", { cx: x, cy: pitchY, r: 6, fill: "none", stroke: FELT, "stroke-width": 2.5 });
    return;
  }
  if (note.verdict === "wrong-pitch") {
    add(overlay, "path", { d: `M${x} ${pitchY - 7}l7 7l-7 7l-7 -7z`, fill: FELT });
    add(overlay, "text", {
      x: x + 9,
      y: pitchY - 4,
      fill: FELT,
      "font-size": 13,
      "font-weight": 700,
    }).textContent = heardName(note.playedMidi!, score);
  } else if (note.cents === null) {
    add(overlay, "circle", { cx: x, cy: pitchY, r: 3, fill: INK });
  } else {
    // In tune by the band's own measure is on the string.
    const shift = Math.abs(note.cents) <= inTuneCents ? 0 : Math.max(-9, Math.min(9, note.cents / 4));
    add(overlay, "circle", { cx: x, cy: pitchY - shift, r: 3, fill: INK });
  }
  const off = note.timing === "early" || note.timing === "late";
  const push = Math.max(-14, Math.min(14, (note.timingMs ?? 0) / 8));
  if (off)
    add(overlay, "line", { x1: x, x2: x, y1: timeY - 6, y2: timeY + 6, stroke: FELT, "stroke-width": 1 });
  add(overlay, "circle", { cx: x + push, cy: timeY, r: off ? 5 : 3, fill: off ? FELT : INK });
  const bad = note.length === "short" || note.length === "long" || note.flags.includes("not-short");
  const width = Math.max(3, Math.min(26, 14 * (note.lengthRatio ?? 0.9)));
  if (bad)
    add(overlay, "rect", {
      x: x - 7,
      y: lengthY - 4,
      width: 14,
      height: 8,
      rx: 4,
      fill: "none",
      stroke: FELT,
      "stroke-dasharray": "2 2",
    });
  add(overlay, "rect", {
    x: x - 7,
    y: lengthY - (bad ? 3.5 : 2.5),
    width,
    height: bad ? 7 : 5,
    rx: 2.5,
    fill: bad ? FELT : INK,
  });
}

function add(parent: SVGElement, name: string, attributes: Record<string, string | number>): SVGElement {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, String(value));
  parent.append(element);
  return element;
}
