import { describe, expect, it } from "vitest";
import {
  absentOf,
  aloneSteps,
  type BoardRow,
  begunNow,
  boardRows,
  doingIn,
  firstNoteIn,
  firstState,
  forTomorrow,
  holdsInto,
  joined,
  lessonClock,
  nameOnBoard,
  onSheet,
  type RoomEntry,
  type RoomNote,
  reached,
  readBars,
  roomMomentAt,
  roomPlan,
  rowNotes,
  standing,
  tell,
  toFollow,
  type WallBlock,
  type WallCommand,
  type WallState,
} from "../../src/core/room";
import { timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";

const settings = {
  bpm: 60,
  stretches: [],
  way: "play",
  countBars: 1,
  subdivisions: 1,
  firstNote: "none",
} as const;
const at = (plan: ReturnType<typeof roomPlan>, kind: string) =>
  plan.plan.events.filter((event) => event.kind === kind).map(({ atSec }) => Math.round(1000 * atSec) / 1000);

describe("bars as a director types them", () => {
  const numbers = ["0", "1", "2", "3", "4", "5", "6", "7", "8"];
  it.each([
    ["5", [[5, 6]]],
    ["5-8", [[5, 9]]],
    ["5 to 8", [[5, 9]]],
    ["0-2", [[0, 3]]],
    [
      "3, 7-8",
      [
        [3, 4],
        [7, 9],
      ],
    ],
    ["", []],
  ])("%s", (text, stretches) => {
    expect(readBars(text, numbers)).toEqual({ stretches });
  });

  it.each([
    ["8-5", "backwards"],
    ["5-9", "no-such-bar"],
    ["all", "not-bars"],
    ["1,2,3,4,5,6,7", "too-many"],
  ])("%s is told as %s", (text, problem) => {
    expect(readBars(text, numbers)).toEqual({ problem });
  });

  it("joins two spots in one pulse", () => {
    const tune = timeline(line("Bb4:4 | C5:2 D5:2 | Eb5:4 | F5:4"), { bpm: 60 });
    const two = joined(tune, [
      [1, 2],
      [3, 4],
    ]);
    expect(two.notes.map(({ midi, onsetSec }) => [midi, onsetSec])).toEqual([
      [72, 0],
      [74, 2],
      [77, 4],
    ]);
    expect(two.measures.map(({ number, onsetSec }) => [number, onsetSec])).toEqual([
      ["2", 0],
      ["4", 4],
    ]);
    expect(two.totalSec).toBe(8);
  });

  it("plays a bar inside a repeat once", () => {
    const tune = timeline(line("[: Bb4:4 | C5:4 :] | D5:4"), { bpm: 60 });
    expect(joined(tune, [[1, 2]]).notes.map(({ midi }) => midi)).toEqual([72]);
  });
});

// Worked by hand at one beat a second; where a pickup is counted in is common practice, no published source.
describe("count-off of every pickup", () => {
  const four = (beats: string) => line(`${beats} | Bb4:4`);
  it.each([
    ["none, one bar", line("Bb4:4"), 1, [0, 1, 2, 3], 4],
    ["none, two bars", line("Bb4:4"), 2, [0, 1, 2, 3, 4, 5, 6, 7], 8],
    ["one beat", four("F4:1"), 1, [0, 1, 2], 3],
    ["one beat, two bars", four("F4:1"), 2, [0, 1, 2, 3, 4, 5, 6], 7],
    ["half a beat", four("F4:1/2"), 1, [0, 1, 2, 3], 3.5],
    ["two beats", four("F4:1 G4:1"), 1, [0, 1], 2],
    ["three beats: a whole bar before", four("F4:1 G4:1 A4:1"), 1, [0, 1, 2, 3, 4], 5],
    ["three four, none", line("Bb4:3", { metre: [3, 4] }), 1, [0, 1, 2], 3],
    ["three four, one beat", line("F4:1 | Bb4:3", { metre: [3, 4] }), 1, [0, 1], 2],
  ] as const)("%s", (_name, score, countBars, counts, starts) => {
    const plan = roomPlan(score, { ...settings, countBars });
    expect(at(plan, "count")).toEqual(counts);
    expect(at(plan, "note")[0]).toBe(starts);
  });

  it("gives the first note for two beats, or three plus one, before the count", () => {
    const two = roomPlan(line("Bb4:4"), { ...settings, firstNote: "two" });
    expect([at(two, "start"), at(two, "count")[0], two.loopFromSec]).toEqual([[0], 3, 3]);
    const three = roomPlan(line("Bb4:4"), { ...settings, firstNote: "three-one" });
    expect(three.plan.events.find(({ kind }) => kind === "start")?.durationSec).toBe(3);
    expect(at(three, "count")[0]).toBe(4);
  });
});

describe("where the room is", () => {
  const plan = roomPlan(line("F4:1 | Bb4:2 C5:2 | D5:4"), settings);
  it("counts aloud, then names bar and beat, and sweeps between them", () => {
    expect(roomMomentAt(plan, 1.5)).toEqual({ bar: null, beat: 2, share: 0.5, counting: true });
    // The pickup is the fourth beat of its bar.
    expect(roomMomentAt(plan, 3)).toMatchObject({ bar: 0, beat: 4, counting: false });
    expect(roomMomentAt(plan, 4.25)).toEqual({ bar: 1, beat: 1, share: 0.25, counting: false });
    expect(roomMomentAt(plan, 10.5)).toEqual({ bar: 2, beat: 3, share: 0.5, counting: false });
  });

  it("finds every bar twice in call and answer", () => {
    const calls = roomPlan(line("Bb4:4 | C5:4 | D5:4 | Eb5:4"), { ...settings, way: "call" });
    expect(calls.bars.map(({ bar, atSec }) => [bar, atSec])).toEqual([
      [0, 4],
      [1, 8],
      [0, 12],
      [1, 16],
      [2, 20],
      [3, 24],
      [2, 28],
      [3, 32],
    ]);
  });

  it("waits for a fermata", () => {
    const held = roomPlan(line("Bb4:2 C5:2^ | D5:4"), settings);
    expect(held.bars.map(({ atSec }) => atSec)).toEqual([4, 10]);
  });
});

describe("the board", () => {
  const tune = line("Bb4:4 | C5:2 D5:2 | r:4 | Eb5:4");
  const row = (id: string): BoardRow => ({
    instrumentIds: [id],
    labels: [id],
    notes: rowNotes(partFor(tune, id).part, () => (id === "trombone" ? "slide" : "")),
  });
  const names = ({ notes }: BoardRow) => notes.map((note) => nameOnBoard(note, "letters"));

  it("names the notes in every instrument's own key", () => {
    // Concert B flat is C for the trumpet, G for the alto, F for the horn: common practice, no published source.
    expect(names(row("flute"))).toEqual(["B♭", "C", "D", "E♭"]);
    expect(names(row("trumpet"))).toEqual(["C", "D", "E", "F"]);
    expect(names(row("sax-alto"))).toEqual(["G", "A", "B", "C"]);
    expect(names(row("horn"))).toEqual(["F", "G", "A", "B♭"]);
  });

  it("is one row for all who say the same, and one each where fingerings differ", () => {
    const rows = ["flute", "trumpet", "trombone", "horn"].map(row);
    expect(boardRows(rows, "letters", false).map(({ labels }) => labels)).toEqual([
      ["flute", "trombone"],
      ["trumpet"],
      ["horn"],
    ]);
    expect(boardRows(rows, "letters", true)).toHaveLength(4);
    // Scale numbers are the same for everybody.
    expect(boardRows(rows, "numbers", false)).toHaveLength(1);
  });

  it("says who plays, rests and enters, and with which note", () => {
    const flute = row("flute");
    expect(doingIn(flute, 0, 2)).toEqual({ kind: "plays" });
    expect(doingIn(flute, 2, 3)).toEqual({ kind: "rests" });
    expect(doingIn(flute, 2, 4)).toEqual({ kind: "enters", bar: 3 });
    expect(nameOnBoard(firstNoteIn(flute, 2, 4)!, "letters")).toBe("E♭");
  });

  it("holds a tied note into the next bar, and shows a repeated one once", () => {
    const tied = line("Bb4:4~ | Bb4:4 | [: C5:4 :]");
    const own = { instrumentIds: [], labels: [], notes: rowNotes(tied, () => "") };
    expect(own.notes.map(({ bar, untilBar }) => [bar, untilBar])).toEqual([
      [0, 1],
      [2, 2],
    ]);
    expect([holdsInto(own, 0), holdsInto(own, 1), holdsInto(own, 2)]).toEqual([false, true, false]);
  });
});

const NOON = 12 * 3_600_000;
const blocks: WallBlock[] = [
  { id: "a", minutes: 5, bpm: null, bars: "" },
  { id: "b", minutes: 10, bpm: 80, bars: "5-8" },
  { id: "c", minutes: 15, bpm: 100, bars: "" },
];
const minute = (n: number) => NOON + 60_000 * n;
const told = (state: WallState, words: WallCommand[], nowMs = NOON) =>
  words.reduce((now, word) => tell(now, word, blocks, nowMs), state);

describe("the wall", () => {
  const first = firstState(blocks, NOON);

  it("goes on, back and elsewhere, and stops what sounds", () => {
    const second = told(first, [{ kind: "play" }, { kind: "next" }]);
    expect(second).toMatchObject({ at: "b", done: ["a"], playing: null, bars: "5-8" });
    expect(told(second, [{ kind: "bars", bars: "1" }, { kind: "back" }])).toMatchObject({
      at: "a",
      bars: "",
    });
    const last = told(second, [{ kind: "next" }, { kind: "next" }]);
    expect(last).toMatchObject({ at: "c", done: ["a", "b", "c"] });
    expect(told(first, [{ kind: "back" }])).toBe(first);
    expect(told(first, [{ kind: "go", block: "nowhere" }])).toBe(first);
  });

  it("leaves a block out, and brings another forward", () => {
    const skipped = told(first, [{ kind: "next" }, { kind: "skip" }]);
    expect(skipped).toMatchObject({ at: "c", skipped: ["b"], done: ["a"] });
    expect(told(skipped, [{ kind: "back" }])).toMatchObject({ at: "b", skipped: [] });
    expect(told(first, [{ kind: "swap", block: "c" }]).order).toEqual(["a", "c", "b"]);
  });

  it("keeps a tempo for each block, within what a line can be played at", () => {
    const b = told(first, [{ kind: "next" }]);
    const faster = told(b, [
      { kind: "faster", by: 4 },
      { kind: "faster", by: 4 },
    ]);
    expect(faster.bpm).toEqual({ b: 88 });
    expect(told(faster, [{ kind: "tempo", bpm: 4 }])).toBe(faster);
    expect(told(faster, [{ kind: "next" }, { kind: "faster", by: -10 }]).bpm).toEqual({ b: 88, c: 90 });
  });

  it("climbs by steps after clean passes, never above the goal", () => {
    const b = told(first, [{ kind: "next" }, { kind: "ramp", ramp: { by: 8, to: 92 } }]);
    const words: WallCommand[] = [{ kind: "clean" }, { kind: "clean" }, { kind: "clean" }];
    expect(told(b, words).bpm).toEqual({ b: 92 });
    expect(told(told(first, [{ kind: "next" }]), words).bpm).toEqual({});
  });

  it("starts anew at every play, so that a start is never mistaken for the one before", () => {
    const playing = told(first, [{ kind: "play" }, { kind: "play" }]);
    expect(playing.playing).toBe(2);
    expect(told(playing, [{ kind: "stop" }]).playing).toBeNull();
  });

  it("follows what it is told once and in order, and nothing that comes too late", () => {
    const word = (seq: number, bpm: number, ageMs = 50) => ({
      seq,
      ageMs,
      command: { kind: "tempo" as const, bpm },
    });
    expect(toFollow([word(5, 85), word(3, 83), word(4, 84), word(4, 84)], 3)).toEqual([
      { kind: "tempo", bpm: 84 },
      { kind: "tempo", bpm: 85 },
    ]);
    // Pressed while the wall was without network: three steps on would come as a surprise.
    expect(toFollow([word(4, 84, 60_000), word(5, 85)], 3)).toEqual([{ kind: "tempo", bpm: 85 }]);
  });

  it("goes on with a sheet that was changed meanwhile", () => {
    const at = told(first, [{ kind: "next" }]);
    const changed = onSheet(at, [blocks[0]!, blocks[2]!, { id: "d", minutes: 1, bpm: null, bars: "" }]);
    expect(changed).toMatchObject({ order: ["a", "c", "d"], at: "a" });
  });
});

describe("the lesson's clock", () => {
  const first = firstState(blocks, NOON);

  it("begins when the lesson is held, not when it was looked at the day before", () => {
    expect(begunNow(first, minute(1440)).blockAt).toBe(minute(1440));
    const held = told(first, [{ kind: "play" }], minute(1));
    expect(begunNow(held, minute(20))).toBe(held);
  });

  it("says when the lesson will end, with the changeovers", () => {
    // 3 of 5 minutes left, then 10 and 15 with a minute before each.
    const clock = lessonClock(first, blocks, 1, minute(2));
    expect(clock).toMatchObject({ blockLeftSec: 180, toGoSec: 60 * (3 + 1 + 10 + 1 + 15), next: "b" });
    expect(clock.endsAtMs).toBe(minute(2 + 30));
  });

  it("moves the end by what a block runs over, is given, and is left out", () => {
    expect(lessonClock(first, blocks, 0, minute(7))).toMatchObject({
      blockLeftSec: -120,
      endsAtMs: minute(7 + 25),
    });
    const longer = told(first, [{ kind: "extend", minutes: 2 }]);
    expect(lessonClock(longer, blocks, 0, NOON).endsAtMs).toBe(minute(32));
    const shorter = told(first, [{ kind: "next" }, { kind: "skip" }], minute(5));
    expect(lessonClock(shorter, blocks, 0, minute(5)).endsAtMs).toBe(minute(20));
    const over = told(first, [{ kind: "next" }, { kind: "next" }, { kind: "next" }], minute(9));
    expect(lessonClock(over, blocks, 0, minute(9))).toMatchObject({ toGoSec: 0, next: null });
  });
});

describe("the log", () => {
  let count = 0;
  const entry = (note: RoomNote, undone = false): RoomEntry => ({
    id: `e${++count}`,
    atMs: count,
    blockId: "a",
    note,
    undone,
  });
  const where = { bars: "5-8", instruments: ["horn"] };

  it("counts an entry once, and none that was undone", () => {
    const rushing = entry({ kind: "tag", tag: "rushing", ...where });
    expect(standing([rushing, rushing])).toHaveLength(1);
    expect(standing([rushing, { ...rushing, undone: true }])).toEqual([]);
  });

  it("takes a second tap on an absent player as here again", () => {
    const tap = (playerId: string) => entry({ kind: "absent", playerId });
    expect(absentOf([tap("ada"), tap("bo"), tap("ada")])).toEqual(["bo"]);
  });

  it("keeps for tomorrow what was starred, with what was heard there, and not what went well", () => {
    const entries = [
      entry({ kind: "tag", tag: "rushing", ...where }),
      entry({ kind: "tag", tag: "better", ...where }),
      entry({ kind: "tag", tag: "balance", bars: "1", instruments: [] }),
      entry({ kind: "star", ...where }),
    ];
    expect(forTomorrow(entries)).toEqual([{ blockId: "a", ...where, tags: ["rushing"] }]);
    expect(forTomorrow([...entries, entry({ kind: "star", ...where })])).toEqual([]);
  });

  it("remembers the fastest tempo of a block", () => {
    const entries = [entry({ kind: "tempo", bpm: 84 }), entry({ kind: "tempo", bpm: 76 })];
    expect(reached(entries, "a")).toBe(84);
    expect(reached(entries, "b")).toBeNull();
  });
});

describe("a lesson that runs itself", () => {
  it("goes the way a line is learned, every section alone once", () => {
    const steps = aloneSteps("line", true, [["flute"], ["horn"]]);
    expect(steps.map(({ kind }) => kind)).toEqual([
      "words",
      "look",
      "clap",
      "say",
      "hear",
      "slow",
      "section",
      "section",
      "play",
      "again",
      "done",
    ]);
    // Nobody is asked to clap or say against a model that plays the notes.
    expect(
      steps.filter(({ kind }) => kind === "clap" || kind === "say").every(({ act }) => !act!.reference),
    ).toBe(true);
  });

  it("needs no sound for what has no notes", () => {
    expect(aloneSteps("text", false, []).every(({ act }) => act === null)).toBe(true);
  });
});
