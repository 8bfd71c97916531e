import { PitchDetector } from "pitchy";
import { describe, expect, it } from "vitest";
import { checkLevel } from "../../src/core/audio";
import { LIVE_FRAME, makeHoldFollower, makeLiveReader } from "../../src/core/listen";
import { hzToMidi, instrumentById, midiToHz, parsePitch, pitchToMidi } from "../../src/core/music";
import {
  bandVoices,
  metronomePlan,
  onOneNote,
  plainSounds,
  renderPlan,
  tappedTempo,
} from "../../src/core/playalong";
import { longToneScore, steadinessOf } from "../../src/core/practice";
import { timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";
import { loadBank, RATE } from "../support/sounds";

const tone = (hz: number, seconds: number, level = 0.3) =>
  Float32Array.from(
    { length: Math.round(seconds * RATE) },
    (_, i) => level * Math.sin((2 * Math.PI * hz * i) / RATE),
  );

describe("the live reader of the tuner", () => {
  it("hears single tones to a cent, by the band's own A", () => {
    for (const midi of [36, 46, 58, 65, 72, 84, 96])
      for (const a4 of [440, 442]) {
        const { midi: heard } = makeLiveReader(RATE, a4)(tone(midiToHz(midi, a4), 0.1), 500);
        expect(Math.abs(100 * (heard! - midi))).toBeLessThan(1.5);
      }
  });
  it("agrees with the pitch library pitchy on recorded notes of real instruments", async () => {
    const detector = PitchDetector.forFloat32Array(LIVE_FRAME);
    const read = makeLiveReader(RATE);
    for (const name of ["trumpet", "clarinet", "flute", "trombone", "french-horn", "tuba"]) {
      let frames = 0;
      let agree = 0;
      for (const note of await loadBank(name)) {
        for (const sec of [0.3, 0.5, 0.8]) {
          const from = Math.round((note.attackSec + sec) * RATE);
          if (from + LIVE_FRAME > note.samples.length) continue;
          const [hz, clarity] = detector.findPitch(note.samples.subarray(from, from + LIVE_FRAME), RATE);
          const { midi } = read(note.samples, from);
          if (clarity < 0.93 || midi === null) continue;
          frames++;
          if (Math.abs(100 * (midi - hzToMidi(hz))) < 10) agree++;
        }
      }
      expect([name, frames > 10]).toEqual([name, true]);
      expect(agree / frames, name).toBeGreaterThan(0.95);
    }
  });
  it("gives silence and noise no pitch", () => {
    const read = makeLiveReader(RATE);
    expect(read(new Float32Array(LIVE_FRAME), 0)).toMatchObject({ midi: null, brightHz: 0 });
    let seed = 7;
    const noise = Float32Array.from({ length: LIVE_FRAME }, () => {
      seed = (seed * 16_807) % 2_147_483_647;
      return 0.3 * (seed / 1_073_741_823 - 1);
    });
    expect(read(noise, 0).midi).toBeNull();
  });
  it("hears a bright tone brighter than a dull one of the same pitch", () => {
    const bright = tone(220, 0.1).map(
      (sample, i) => sample + 0.2 * Math.sin((2 * Math.PI * 1760 * i) / RATE),
    );
    const read = makeLiveReader(RATE);
    expect(read(bright, 0).brightHz).toBeGreaterThan(2 * read(tone(220, 0.1), 0).brightHz);
  });
  it("follows how long a sound is held and how far a siren goes", () => {
    const follow = makeHoldFollower();
    const frame = (midi: number | null, levelDb: number) => ({ midi, levelDb, brightHz: 500 });
    let held = follow(frame(null, -90), 0);
    expect(held).toBeNull();
    for (let i = 0; i <= 100; i++) held = follow(frame(60 + i / 20, -20), 0.1 + i / 50);
    expect(held!.seconds).toBeCloseTo(2, 1);
    expect(held!.spanSemitones).toBeCloseTo(5, 1);
    // A click of a gap ends nothing, a breath does.
    expect(follow(frame(null, -90), 2.2)).not.toBeNull();
    expect(follow(frame(null, -90), 2.5)).toBeNull();
  });
});

describe("the metronome", () => {
  const usual = {
    bpm: 90,
    beats: 4,
    subdivisions: 1,
    accents: true,
    silentBars: 0,
    soundingBars: 1,
  } as const;
  it("ends where it begins, so that it goes round for ever", () => {
    const { events, totalSec } = metronomePlan({ ...usual, beats: 3, subdivisions: 2 });
    expect(totalSec).toBeCloseTo(2, 9);
    expect(events.map(({ kind, accent }) => [kind, accent])).toEqual([
      ["click", true],
      ["subdivision", false],
      ["click", false],
      ["subdivision", false],
      ["click", false],
      ["subdivision", false],
    ]);
  });
  it("falls silent for whole bars and comes back in time", () => {
    const { events, totalSec } = metronomePlan({ ...usual, silentBars: 2, soundingBars: 2 });
    expect(totalSec).toBeCloseTo((16 * 60) / 90, 9);
    expect(Math.max(...events.map(({ atSec }) => atSec))).toBeLessThan((8 * 60) / 90);
    expect(() => metronomePlan({ ...usual, bpm: 10 })).toThrow(RangeError);
    expect(() => metronomePlan({ ...usual, beats: 0 })).toThrow(RangeError);
  });
  it("takes the tempo that is tapped, by the middle of the gaps since the last pause", () => {
    expect(tappedTempo([0])).toBeNull();
    expect(tappedTempo([0, 1, 9, 9.5, 10, 10.5])).toBe(120);
    expect(tappedTempo([0, 0.5, 1.0, 1.9, 2.4])).toBe(120);
  });
});

describe("the check of the microphone", () => {
  const quiet = (level: number) => tone(3000, 1.5, level);
  const found = (room: number, sample: Float32Array) => {
    const samples = new Float32Array(quiet(room).length + sample.length);
    samples.set(quiet(room));
    samples.set(sample, quiet(room).length);
    return checkLevel({ samples, sampleRate: RATE }, 1.3).verdict;
  };
  it("tells apart good, soft, silent, clipped and a loud room", () => {
    expect(found(0.001, tone(440, 2, 0.3))).toBe("good");
    expect(found(0.001, tone(440, 2, 0.005))).toBe("soft");
    expect(found(0, new Float32Array(2 * RATE))).toBe("silent");
    expect(
      found(
        0.001,
        tone(440, 2, 3).map((each) => Math.max(-1, Math.min(1, each))),
      ),
    ).toBe("clipped");
    expect(found(0.1, tone(440, 2, 0.3))).toBe("noisy");
  });
});

describe("the band that plays along", () => {
  const { part } = partFor(line("Bb4:1 C5:1 D5:2 | Bb4:4"), "trumpet");
  it("plays the line in its octaves and leaves the player's own instrument to the player", () => {
    const voices = bandVoices(part, [], 80, "clarinet");
    expect(voices.map(({ sound }) => sound)).toEqual(["flute", "trombone", "tuba"]);
    const classes = voices.map(({ plan }) =>
      plan.events.flatMap(({ midi }) => (midi === undefined ? [] : [midi % 12])),
    );
    for (const each of classes) expect(each).toEqual(timeline(part).notes.map(({ midi }) => midi! % 12));
    const means = voices.map(({ plan }) => Math.max(...plan.events.flatMap(({ midi }) => midi ?? [])));
    expect([...means].sort((a, b) => b - a)).toEqual(means);
  });
  it("plays the other parts where the line has some, high to low", () => {
    const voices = bandVoices(part, [line("D5:4 | D5:4"), line("Bb3:4 | Bb3:4")], 80, "trumpet");
    expect(voices.map(({ sound }) => sound)).toEqual(["flute", "tuba"]);
    const bank = plainSounds();
    const heard = renderPlan(
      { ...voices[0]!.plan, events: [] },
      {
        mix: { count: false, click: false, reference: false, band: true },
        bank,
        sampleRate: 8000,
        band: voices.map((voice) => ({ ...voice, sound: "concert" })),
      },
    );
    expect(heard.some((sample) => Math.abs(sample) > 0.02)).toBe(true);
  });
  it("holds a slur through on one note across a bar line", () => {
    const held = onOneNote(line("Bb4:3 C5:1( | D5:1 C5:1) Bb4:2"), parsePitch("F4"));
    expect(timeline(held).notes.map(({ durationQuarters }) => durationQuarters)).toEqual([3, 3, 2]);
  });
});

describe("a long tone", () => {
  it("is heard against the note as the instrument sounds it", () => {
    const horn = instrumentById("horn");
    const score = longToneScore(pitchToMidi(parsePitch("C5")), {
      clef: horn.clef,
      soundsBySemitones: horn.soundsBy.semitones,
    });
    // Written C sounds F on the horn (common practice, no published source).
    expect(timeline(score).notes[0]!.midi! % 12).toBe(5);
  });
  it("is steady in each of the three or not", () => {
    const still = { seconds: 9, pitchSdCents: 6, levelSdDb: 1, brightnessSpread: 0.05 };
    expect(steadinessOf(still)).toEqual({ seconds: 9, pitch: true, level: true, colour: true });
    expect(steadinessOf({ ...still, levelSdDb: 5 })).toMatchObject({ pitch: true, level: false });
  });
});
