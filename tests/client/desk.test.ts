import { describe, expect, it } from "vitest";
import {
  type Desk,
  type DeskEvent,
  deskAfter,
  READY,
  type ToldRound,
} from "../../src/views/practice/room/desk";

const told: ToldRound = {
  judged: { outcome: "clean", notes: 4, clean: 4, wrong: 0, tooMany: 0, status: "assessed" },
  assessment: {} as ToldRound["assessment"],
  sung: null,
  bpm: 80,
};
const deskOf = (...events: DeskEvent[]) => events.reduce<Desk>(deskAfter, READY);

describe("the desk of a player", () => {
  it("goes from the microphone to the answer one state at a time", () => {
    const states = ["start", "began", "over"] as const;
    let desk: Desk = READY;
    const seen = states.map((kind) => (desk = deskAfter(desk, { kind })).at);
    expect(seen).toEqual(["starting", "playing", "judging"]);
    expect(deskAfter(desk, { kind: "told", told })).toEqual({ at: "ready", told, problem: "" });
  });
  it("does nothing twice for a held key or a double click", () => {
    expect(deskOf({ kind: "start" }, { kind: "start" }).at).toBe("starting");
    expect(deskOf({ kind: "start" }, { kind: "began" }, { kind: "start" }).at).toBe("playing");
    expect(deskOf({ kind: "start" }, { kind: "hear" }).at).toBe("starting");
  });
  it("keeps the last answer while the line is heard again, and drops it with a new round", () => {
    const answered = deskOf({ kind: "start" }, { kind: "began" }, { kind: "over" }, { kind: "told", told });
    const heard = deskAfter(deskAfter(answered, { kind: "hear" }), { kind: "over" });
    expect(heard).toEqual({ at: "ready", told, problem: "" });
    expect(deskAfter(heard, { kind: "start" })).toEqual({ at: "starting" });
  });
  it("lets no answer in that comes after the player gave the round up", () => {
    const givenUp = deskOf({ kind: "start" }, { kind: "began" }, { kind: "clear" });
    expect(deskAfter(givenUp, { kind: "told", told })).toEqual(READY);
    expect(deskAfter(givenUp, { kind: "over" })).toEqual(READY);
  });
  it("says why it could not, wherever it was", () => {
    for (const events of [[], [{ kind: "start" }], [{ kind: "start" }, { kind: "began" }]] as DeskEvent[][])
      expect(deskOf(...events, { kind: "failed", problem: "No microphone was found." })).toEqual({
        at: "ready",
        told: null,
        problem: "No microphone was found.",
      });
  });
});
