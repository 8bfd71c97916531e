import { describe, expect, it } from "vitest";
import { parsePitch } from "../../src/core/music";
import {
  backwards,
  callAndResponse,
  changeDrill,
  type Fault,
  faultsFor,
  heardThenYours,
  inHalves,
  noteName,
  onOneNote,
  type PlayAlong,
  passage,
  plainSounds,
  playAlong,
  renderPlan,
  tempoLadder,
  withFault,
} from "../../src/core/playalong";
import { timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";

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
    const samples = renderPlan(
      { ...plan, events: plan.events.filter((event) => event.kind === "click") },
      { mix: { count: false, click: true, reference: false }, bank: plainSounds(), sampleRate: rate },
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
      renderPlan(plan, {
        mix: { count: false, click: false, reference: false },
        bank: plainSounds(),
        sampleRate: 8000,
      }).every((sample) => sample === 0),
    ).toBe(true);
  });
});

const of = (plan: PlayAlong, kind: PlayAlong["events"][number]["kind"]) =>
  plan.events.filter((event) => event.kind === kind);
const times = (plan: PlayAlong, kind: PlayAlong["events"][number]["kind"]) =>
  of(plan, kind).map((event) => Math.round(event.atSec * 1000) / 1000);
const at60 = (music: string, about = {}) => timeline(line(music, about), { bpm: 60 });

describe("options of a play-along", () => {
  it("clicks subdivisions between the beats, a pickup's included", () => {
    const plan = playAlong(at60("Bb4:4"), { subdivisions: 3 });
    expect(times(plan, "click")).toEqual([4, 5, 6, 7]);
    expect(times(plan, "subdivision").slice(0, 4)).toEqual([4.333, 4.667, 5.333, 5.667]);
    const pickup = playAlong(at60("F5:1/2 | D5:4"), { subdivisions: 2 });
    expect(pickup.startSec).toBe(3.5);
    expect(times(pickup, "subdivision")[0]).toBe(3.5);
  });

  it("sounds and names the starting note as the player reads it, before the count", () => {
    const part = partFor(line("r:1 Bb4:1 C5:2"), "sax-alto").part;
    const plan = playAlong(timeline(part, { bpm: 60 }), { startingNote: true });
    expect(of(plan, "start")).toEqual([
      { atSec: 0, kind: "start", accent: false, midi: 58, durationSec: 2, text: "G" },
    ]);
    expect(times(plan, "count")).toEqual([3, 4, 5, 6]);
    expect(plan.startSec).toBe(7);
    expect(of(playAlong(at60("x:4"), { startingNote: true }), "start")).toEqual([]);
  });

  it("holds a fermata, stops the click under it and says when to let go", () => {
    const plan = playAlong(at60("Bb4:2 C5:2^ | D5:4"), { fermataHold: 1 });
    expect(times(plan, "note")).toEqual([4, 6, 10]);
    expect(of(plan, "note")[1]!.durationSec).toBe(4);
    expect(of(plan, "cue").map(({ atSec, text }) => [atSec, text])).toEqual([[10, "release"]]);
    expect(times(plan, "click")).toEqual([4, 5, 6, 7, 10, 11, 12, 13]);
    expect(plan.totalSec).toBe(14);
    expect(times(playAlong(at60("Bb4:2 C5:2^ | D5:4")), "note")).toEqual([4, 6, 8]);
  });

  it("holds a rest under a fermata too, without clicking in it", () => {
    const score = line("Bb4:2 r:2 | C5:4", { bpm: 60 });
    score.parts[0].measures[0]!.events[1]!.fermata = true;
    const plan = playAlong(timeline(score), { fermataHold: 1 });
    const notes = plan.events
      .filter((event) => event.kind === "note")
      .map((event) => event.atSec - plan.startSec);
    // Two beats of rest are held for two more: C begins on the sixth second instead of the fourth.
    expect(notes).toEqual([0, 6]);
    expect(plan.totalSec - plan.startSec).toBe(10);
  });

  it("calls names in the player's own key", () => {
    // Movable do from the standard scale; chromatic syllables and "1 e & a" are common practice, no published source.
    const notes = timeline(partFor(line("Bb4:1 D5:1 E5:1/2 F5:1/4 A4:1/4 Bb4:1"), "clarinet").part).notes;
    const named = (naming: Parameters<typeof noteName>[1]) => notes.map((note) => noteName(note, naming));
    expect(named("letters")).toEqual(["C", "E", "F♯", "G", "B", "C"]);
    expect(named("solfege")).toEqual(["do", "mi", "fi", "sol", "ti", "do"]);
    expect(named("numbers")).toEqual(["1", "3", "♯4", "5", "7", "1"]);
    expect(named("count")).toEqual(["1", "2", "3", "&", "a", "4"]);
  });

  it("calls the words where there are any, else the count", () => {
    const score = line("Bb4:1 C5:1 D5:2");
    score.parts[0].measures[0]!.events[0]!.lyric = "sail";
    expect(of(playAlong(timeline(score), { naming: "words" }), "note").map((event) => event.text)).toEqual([
      "sail",
      "2",
      "3",
    ]);
  });
});

describe("ways to practise a line", () => {
  const four = "Bb4:4 | C5:4 | D5:4 | Eb5:4";

  it("plays halves, then the whole, each from its own count", () => {
    const plan = inHalves(at60(four));
    expect(plan.phases!.map(({ label, fromSec }) => [label, fromSec])).toEqual([
      ["bars 1 to 2", 0],
      ["bars 3 to 4", 13],
      ["the whole line", 26],
    ]);
    expect(of(plan, "note").map((event) => event.midi)).toEqual([70, 72, 74, 75, 70, 72, 74, 75]);
    expect(of(plan, "count")).toHaveLength(12);
    expect(plan.totalSec).toBe(26 + 20);
  });

  it("goes backwards by bars, a pickup with its first bar", () => {
    const label = (music: string) => backwards(at60(music)).phases!.map((phase) => phase.label);
    expect(label(four)).toEqual(["bar 4", "bars 3 to 4", "bars 2 to 4", "the whole line"]);
    expect(label("F5:1 | D5:4 | D5:3")).toEqual(["bar 2", "the whole line"]);
  });

  it("leaves the response to the player, in time", () => {
    const plan = callAndResponse(at60(four), 2);
    expect(of(plan, "note").map(({ atSec, silent }) => [atSec, silent ?? false])).toEqual([
      [4, false],
      [8, false],
      [12, true],
      [16, true],
      [20, false],
      [24, false],
      [28, true],
      [32, true],
    ]);
    expect(times(plan, "click")).toHaveLength(32);
    const samples = renderPlan(plan, {
      mix: { count: false, click: false, reference: true },
      bank: plainSounds(),
      sampleRate: 4000,
    });
    expect(samples.subarray(48_500, 79_900).every((sample) => Math.abs(sample) < 1e-6)).toBe(true);
    expect(() => callAndResponse(at60(four), 0)).toThrow(RangeError);
  });

  it("never stops the click between call and response, and begins each in its own metre", () => {
    // A pickup of one, four bars, the last one short by the pickup: a response may begin at once after the short bar.
    const tune = timeline(
      line("F4:1 | Bb4:1 C5:1 D5:1 C5:1 | Bb4:4 | C5:1 C5:1 D5:1 C5:1 | Bb4:3", { bpm: 60 }),
    );
    for (const bars of [1, 2, 3, 4]) {
      const plan = callAndResponse(tune, bars);
      const clicks = plan.events.filter((event) => event.kind === "click").map((event) => event.atSec);
      const steps = clicks.slice(1).map((at, i) => Math.round((at - clicks[i]!) * 1000));
      expect([bars, [...new Set(steps)]]).toEqual([bars, [1000]]);
      // First beats stay four beats apart, through every pause.
      const firsts = plan.events.filter((event) => event.kind === "click" && event.accent);
      const bar = firsts.slice(1).map((event, i) => Math.round(event.atSec - firsts[i]!.atSec));
      expect([bars, [...new Set(bar)]]).toEqual([bars, [4]]);
    }
    const { plan, yoursFromSec } = heardThenYours(tune);
    const clicks = plan.events.filter((event) => event.kind === "click").map((event) => event.atSec);
    expect(new Set(clicks.slice(1).map((at, i) => Math.round((at - clicks[i]!) * 1000)))).toEqual(
      new Set([1000]),
    );
    // The short last bar ends where the pickup of the next turn begins.
    expect(yoursFromSec).toBe(plan.startSec + 16);
  });

  it("climbs a ladder of tempi", () => {
    const plan = tempoLadder(line(four), [60, 120]);
    expect(plan.phases!.map((phase) => phase.label)).toEqual(["60 bpm", "120 bpm"]);
    expect(plan.phases![1]!.fromSec).toBe(21);
    expect(times(plan, "note").slice(4)).toEqual([23, 25, 27, 29]);
  });

  it("keeps the rhythm on one note, a slur as one held sound", () => {
    const score = onOneNote(line("Bb4:1 C5:1( D5:1) r:1"), parsePitch("F4"));
    expect(timeline(score).notes.map((note) => [note.midi, note.durationQuarters, note.slurred])).toEqual([
      [65, 1, false],
      [65, 2, false],
    ]);
  });

  it("gives a change of two notes less time at every turn", () => {
    const plan = changeDrill(parsePitch("C4"), parsePitch("D4"));
    const notes = of(plan, "note");
    const gaps = notes.filter((_, i) => i % 2).map((event, i) => event.atSec - notes[2 * i]!.atSec - 1);
    expect(gaps.map((gap) => Math.round(gap * 10) / 10)).toEqual([6, 5, 4, 3, 2, 1, 0.5]);
    expect(
      of(plan, "count")
        .slice(0, 6)
        .map((event) => event.text),
    ).toEqual(["6", "5", "4", "3", "2", "1"]);
    expect(() => changeDrill(parsePitch("C4"), parsePitch("D4"), [])).toThrow(RangeError);
  });

  it("cuts a passage out of a repeated line in played order, and a held note at its end", () => {
    const repeated = at60("[: Bb4:4 | C5:2 D5:2~ :] | D5:4");
    expect(repeated.measures).toHaveLength(5);
    const part = passage(repeated, 3, 4);
    expect(part.notes.map((note) => [note.midi, note.onsetSec, note.durationSec])).toEqual([
      [72, 0, 2],
      [74, 2, 2],
    ]);
    expect(() => passage(repeated, 5, 6)).toThrow(RangeError);
  });
});

describe("hearing the difference", () => {
  const right = (music: string, fifths = -2) => {
    const own = timeline(line(music, { fifths }), { bpm: 60 });
    return { own, plan: playAlong(own) };
  };
  const sounding = (plan: ReturnType<typeof playAlong>) =>
    plan.events
      .filter((event) => event.kind === "note")
      .map(({ atSec, midi, durationSec }) => [atSec, midi, durationSec]);

  it("offers only the faults a line can have", () => {
    expect(faultsFor(right("C5:1 D5:1 F5:1 G5:1").own)).toEqual([
      "wavering-tone",
      "swelling-tone",
      "changing-tone",
      "clipped-notes",
      "pushed-release",
    ]);
    expect(faultsFor(right("Bb4:1 C5:1( D5:1) Eb5:1").own)).toEqual([
      "key-ignored",
      "rushed-slur",
      "wavering-tone",
      "swelling-tone",
      "changing-tone",
      "clipped-notes",
      "re-tongued-slur",
      "slur-as-tie",
      "pushed-release",
    ]);
  });

  it("tongues a slur anew, or holds it like a tie", () => {
    const { own, plan } = right("Bb4:1( C5:1 D5:1) Eb5:1");
    expect(plan.events.some(({ slurred }) => slurred)).toBe(true);
    const anew = withFault(plan, own, "re-tongued-slur");
    expect(anew.events.some(({ slurred, slursOn }) => slurred || slursOn)).toBe(false);
    expect(sounding(anew)).toEqual(sounding(plan));
    expect(sounding(withFault(plan, own, "slur-as-tie"))).toEqual([
      [4, 70, 3],
      [7, 75, 1],
    ]);
  });

  it("swells, dulls and pushes a held note off, each as it is called", () => {
    const { own, plan } = right("Bb4:4");
    const rate = 8000;
    const settings = {
      mix: { count: false, click: false, reference: true },
      bank: plainSounds(),
      sampleRate: rate,
    };
    const made = (fault?: Fault) => renderPlan(fault ? withFault(plan, own, fault) : plan, settings);
    // The note sounds from second 4 to 8.
    const loud = (samples: Float32Array, fromSec: number, toSec: number) =>
      Math.sqrt(
        samples
          .subarray(fromSec * rate, toSec * rate)
          .reduce((sum, sample) => sum + (sample * sample) / ((toSec - fromSec) * rate), 0),
      );
    /** Change from sample to sample against loudness: more for a bright tone. */
    const bright = (samples: Float32Array, fromSec: number, toSec: number) => {
      const steps = samples
        .slice(fromSec * rate, toSec * rate)
        .map((sample, i, all) => sample - (all[i - 1] ?? 0));
      return loud(steps, 0, toSec - fromSec) / loud(samples, fromSec, toSec);
    };
    const [usual, swelling, dull, pushed] = [
      made(),
      made("swelling-tone"),
      made("changing-tone"),
      made("pushed-release"),
    ] as const;
    expect(loud(usual, 5.75, 6.25) / loud(usual, 4.1, 4.4)).toBeCloseTo(1, 1);
    expect(loud(swelling, 5.75, 6.25) / loud(swelling, 4.1, 4.4)).toBeGreaterThan(1.7);
    expect(bright(usual, 7.5, 7.8) / bright(usual, 4.1, 4.4)).toBeCloseTo(1, 1);
    expect(bright(dull, 7.5, 7.8) / bright(dull, 4.1, 4.4)).toBeLessThan(0.88);
    expect(loud(pushed, 7.88, 7.93) / loud(pushed, 6, 6.5)).toBeGreaterThan(1.6);
  });

  it("ignores the key and nothing else", () => {
    const { own, plan } = right("Bb4:1 C5:1 Eb5:1 Ab5:1");
    // Two flats: B and E become natural; A flat is an accidental of its own and stays.
    expect(sounding(withFault(plan, own, "key-ignored"))).toEqual([
      [4, 71, 1],
      [5, 72, 1],
      [6, 76, 1],
      [7, 80, 1],
    ]);
    expect(withFault(plan, own, "key-ignored").totalSec).toBe(plan.totalSec);
  });

  it("rushes inside the slur and waits for the next beat", () => {
    const { own, plan } = right("Bb4:1( C5:1 D5:1) Eb5:1");
    const rushed = sounding(withFault(plan, own, "rushed-slur"));
    expect(rushed.map(([at]) => Math.round(100 * at!) / 100)).toEqual([4, 4.72, 5.44, 7]);
    expect(rushed[2]![0]! + rushed[2]![2]!).toBeCloseTo(7, 6);
  });

  it("lets long notes waver and cuts others short", () => {
    const { own, plan } = right("Bb4:2 C5:1 D5:1");
    const wavering = withFault(plan, own, "wavering-tone").events.filter((event) => event.waver);
    expect(wavering).toHaveLength(3);
    expect(sounding(withFault(plan, own, "clipped-notes")).map(([, , length]) => length)).toEqual([
      0.8, 0.4, 0.4,
    ]);
    const settings = {
      mix: { count: false, click: false, reference: true },
      bank: plainSounds(),
      sampleRate: 8000,
    };
    expect(renderPlan(withFault(plan, own, "wavering-tone"), settings)).not.toEqual(
      renderPlan(plan, settings),
    );
  });
});
