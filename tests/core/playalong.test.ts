import { describe, expect, it } from "vitest";
import { playAlong, renderPlayAlong } from "../../src/core/playalong";
import { timeline } from "../../src/core/score";
import { line } from "../support/music";

describe("play-along", () => {
  it("counts one bar before a line that begins on one", () => {
    const { events, startSec } = playAlong(timeline(line("Bb4:4"), { bpm: 60 }));
    expect(startSec).toBe(4);
    expect(
      events.filter((event) => event.kind === "count").map((event) => [event.atSec, event.accent]),
    ).toEqual([
      [0, true],
      [1, false],
      [2, false],
      [3, false],
    ]);
    expect(events.find((event) => event.kind === "note")!.atSec).toBe(4);
  });

  it("lets a pickup take its place in the counted bar", () => {
    const plan = playAlong(timeline(line("F5:1 | D5:4 | D5:3"), { bpm: 60 }));
    expect(plan.startSec).toBe(3);
    expect(plan.events.filter((event) => event.kind === "click" && event.accent)[0]!.atSec).toBe(4);
  });

  it("starts every sound on its exact sample after ten minutes too", () => {
    const long = timeline(line(Array(150).fill("Bb4:1 C5:1 D5:1 C5:1").join(" | ")), { bpm: 61 });
    const rate = 8000;
    const plan = playAlong(long);
    const samples = renderPlayAlong(
      { ...plan, events: plan.events.filter((event) => event.kind === "click") },
      { count: false, click: true, reference: false },
      rate,
    );
    const last = plan.events.filter((event) => event.kind === "click").at(-1)!;
    const at = Math.round((4 + 599) * (60 / 61) * rate);
    expect(Math.abs(Math.round(last.atSec * rate) - at)).toBeLessThanOrEqual(1);
    expect(samples.subarray(at - 200, at).every((sample) => Math.abs(sample) < 1e-6)).toBe(true);
    expect(samples.subarray(at, at + 40).some((sample) => Math.abs(sample) > 0.1)).toBe(true);
  });

  it("is silent where everything is switched off", () => {
    const plan = playAlong(timeline(line("Bb4:4")));
    expect(
      renderPlayAlong(plan, { count: false, click: false, reference: false }, 8000).every(
        (sample) => sample === 0,
      ),
    ).toBe(true);
  });
});
