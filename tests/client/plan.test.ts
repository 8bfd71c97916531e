import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ApiError } from "../../src/client/api";
import { openPlan, type SentPlan } from "../../src/client/plan";
import type { Strip } from "../../src/core/plan";
import type { SavedPlan, StripView } from "../../src/services/week/schema";

const strip = (id: string, minutes = 5): Strip => ({
  id,
  groupId: "g",
  where: "home",
  forWhom: { kind: "everyone" },
  date: "2026-11-30",
  place: 1,
  kind: "text",
  refId: null,
  title: id,
  minutes,
  firstBar: null,
  lastBar: null,
  note: "",
  reason: null,
});

/** A server that keeps strips by version, as the real one does. */
function server(...first: Strip[]) {
  let version = 1;
  const rows = new Map<string, { strip: Strip | null; version: number }>(
    first.map((each) => [each.id, { strip: each, version: 1 }]),
  );
  const view = (each: Strip, at: number): StripView => ({
    ...each,
    version: at,
    assignmentId: null,
    onStands: false,
  });
  return {
    first: () => ({
      strips: first.map((each) => view(each, 1)),
      asks: {},
      version: 1,
    }),
    rows: () => [...rows.values()].flatMap(({ strip: each }) => each ?? []),
    async send({ since, changes }: SentPlan): Promise<SavedPlan> {
      const refused: SavedPlan["refused"] = [];
      if (changes.length > 0) version++;
      for (const { id, basis, strip: wanted } of changes) {
        const row = rows.get(id);
        if (row && row.version !== basis) refused.push({ id, said: row.strip ? "changed" : "taken off" });
        else rows.set(id, { strip: wanted, version });
      }
      const changed = [...rows].filter(([, row]) => row.version > since);
      return {
        version,
        strips: changed.flatMap(([, row]) => (row.strip ? [view(row.strip, row.version)] : [])),
        gone: changed.flatMap(([id, row]) => (row.strip ? [] : [{ id, version: row.version }])),
        refused,
        asks: {},
      };
    },
  };
}

const minutes = (plan: ReturnType<typeof openPlan>) =>
  Object.fromEntries(plan.state().strips.map((each) => [each.id, each.minutes]));
const set = (plan: ReturnType<typeof openPlan>, id: string, to: number) =>
  plan.change(plan.state().strips.map((each) => (each.id === id ? { ...each, minutes: to } : each)));
const off = (plan: ReturnType<typeof openPlan>, id: string) =>
  plan.change(plan.state().strips.filter((each) => each.id !== id));

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

describe("a plan on a page", () => {
  it("shows a change at once and keeps it when the hand rests, several as one", async () => {
    const bench = server(strip("a"));
    const send = vi.fn(bench.send);
    const plan = openPlan(bench.first(), send);
    for (const each of [6, 7, 8]) set(plan, "a", each);
    expect([minutes(plan), send.mock.calls.length]).toEqual([{ a: 8 }, 0]);
    await vi.runAllTimersAsync();
    expect([bench.rows()[0]!.minutes, send.mock.calls.length, plan.state().saving]).toEqual([8, 1, "kept"]);
  });

  it("takes every step back and brings it again, saved too", async () => {
    const bench = server(strip("a"), strip("b"));
    const plan = openPlan(bench.first(), bench.send);
    set(plan, "a", 9);
    await vi.runAllTimersAsync();
    off(plan, "b");
    await vi.runAllTimersAsync();
    plan.undo();
    plan.undo();
    await vi.runAllTimersAsync();
    expect(bench.rows().map((each) => [each.id, each.minutes])).toEqual([
      ["a", 5],
      ["b", 5],
    ]);
    expect([plan.state().canUndo, plan.state().canRedo]).toEqual([false, true]);
    plan.redo();
    plan.redo();
    await vi.runAllTimersAsync();
    expect(bench.rows().map((each) => [each.id, each.minutes])).toEqual([["a", 9]]);
  });

  it("takes a word that was typed back as one step, and what was typed later as another", async () => {
    const bench = server(strip("a"), strip("b"));
    const plan = openPlan(bench.first(), bench.send);
    const type = (id: string, note: string) =>
      plan.change(
        plan.state().strips.map((each) => (each.id === id ? { ...each, note } : each)),
        `note/${id}`,
      );
    const notes = () => plan.state().strips.map(({ note }) => note);
    for (const note of ["s", "sl", "slow"]) type("a", note);
    type("b", "x");
    await vi.advanceTimersByTimeAsync(5_000);
    type("b", "xy");
    plan.undo();
    expect(notes()).toEqual(["slow", "x"]);
    plan.undo();
    plan.undo();
    expect(notes()).toEqual(["", ""]);
    plan.redo();
    await vi.runAllTimersAsync();
    expect([notes(), bench.rows().map(({ note }) => note)]).toEqual([
      ["slow", ""],
      ["slow", ""],
    ]);
  });

  it("with another page open loses nothing: different strips go together, the same one is asked about", async () => {
    const bench = server(strip("a"), strip("b"));
    const [mine, theirs] = [openPlan(bench.first(), bench.send), openPlan(bench.first(), bench.send)];
    set(theirs, "a", 20);
    set(theirs, "b", 30);
    await vi.runAllTimersAsync();
    set(mine, "a", 7);
    mine.change([...mine.state().strips, strip("c")]);
    await vi.runAllTimersAsync();
    expect(minutes(mine)).toEqual({ a: 20, b: 30, c: 5 });
    expect(mine.state().conflicts).toMatchObject([{ id: "a", said: "changed", mine: { minutes: 7 } }]);
    mine.settle("a", "mine");
    await vi.runAllTimersAsync();
    await theirs.look();
    expect([minutes(mine), minutes(theirs)]).toEqual([
      { a: 7, b: 30, c: 5 },
      { a: 7, b: 30, c: 5 },
    ]);
    expect(mine.state().conflicts).toEqual([]);
  });

  it("brings back what another page took off, where that is wanted", async () => {
    const bench = server(strip("a"), strip("b"));
    const [mine, theirs] = [openPlan(bench.first(), bench.send), openPlan(bench.first(), bench.send)];
    off(theirs, "a");
    await vi.runAllTimersAsync();
    set(mine, "a", 7);
    await vi.runAllTimersAsync();
    expect(mine.state().conflicts).toMatchObject([{ id: "a", said: "taken off" }]);
    mine.settle("a", "mine");
    await vi.runAllTimersAsync();
    expect([
      bench
        .rows()
        .map(({ id }) => id)
        .sort(),
      mine.state().saving,
    ]).toEqual([["a", "b"], "kept"]);
  });

  it("does not undo what another page did", async () => {
    const bench = server(strip("a"), strip("b"));
    const [mine, theirs] = [openPlan(bench.first(), bench.send), openPlan(bench.first(), bench.send)];
    set(mine, "a", 7);
    await vi.runAllTimersAsync();
    set(theirs, "b", 30);
    await vi.runAllTimersAsync();
    await mine.look();
    mine.undo();
    await vi.runAllTimersAsync();
    expect(minutes(mine)).toEqual({ a: 5, b: 30 });
  });

  it("keeps what is changed while the answer is under way, and undo of what is under way", async () => {
    const bench = server(strip("a"));
    const answers: (() => void)[] = [];
    const plan = openPlan(bench.first(), async (sent) => {
      const answer = await bench.send(sent);
      await new Promise<void>((go) => answers.push(go));
      return answer;
    });
    set(plan, "a", 6);
    await vi.advanceTimersByTimeAsync(1000);
    set(plan, "a", 7);
    plan.undo();
    plan.undo();
    answers.shift()!();
    await vi.advanceTimersByTimeAsync(1000);
    answers.shift()!();
    await vi.advanceTimersByTimeAsync(1000);
    expect([minutes(plan), bench.rows()[0]!.minutes, plan.state().conflicts]).toEqual([{ a: 5 }, 5, []]);
  });

  it("says that it could not be kept, and sends it again by itself", async () => {
    const bench = server(strip("a"));
    let away = true;
    const plan = openPlan(bench.first(), async (sent) => {
      if (away) throw new ApiError("The bench cannot be reached.", "offline");
      return bench.send(sent);
    });
    set(plan, "a", 8);
    await vi.advanceTimersByTimeAsync(1000);
    expect([plan.state().saving, plan.state().problem, minutes(plan)]).toEqual([
      "failed",
      "The bench cannot be reached.",
      { a: 8 },
    ]);
    away = false;
    await vi.runAllTimersAsync();
    expect([plan.state().saving, bench.rows()[0]!.minutes]).toEqual(["kept", 8]);
  });

  it("puts back what is refused for good, with the sentence", async () => {
    const bench = server(strip("a"));
    const plan = openPlan(bench.first(), async () => {
      throw new ApiError("Saturday is off.", "conflict");
    });
    set(plan, "a", 8);
    await vi.runAllTimersAsync();
    expect([minutes(plan), plan.state().problem]).toEqual([{ a: 5 }, "Saturday is off."]);
  });
});
