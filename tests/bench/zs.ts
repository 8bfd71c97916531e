import { assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { derivePart } from "../../src/core/score";
import { randomLine } from "../support/random-line";
import { spoken, roomNoise, CONDITIONS } from "../support/conditions";
import { RATE } from "../support/sounds";
import { seededRandom } from "../../demo/random";
import { SOURCES } from "./hearing";
import { CAREFUL, perform } from "../support/performer";
const TEXTS = ["One, two, ready, go.", "Hello teacher, I could not practise this week because my clarinet is broken and my dog was ill, so I will send it tomorrow.", "La la la la laa, la la la laa", "Okay, so, um, this is line twenty three. Mum, can you please be quiet? I am recording. No, not now. Okay. Never mind, I will do it again later.", "ha ha ha ha ha ha ha"];
const tally: Record<string, Record<string, number>> = {};
const add = (k: string, s: string) => { (tally[k] ??= {})[s] = (tally[k]![s] ?? 0) + 1; };
let n = 0;
for (const id of ["flute", "clarinet", "trumpet", "trombone", "tuba", "bells", "snare", ""]) {
  for (let seed = 1; seed <= 6; seed++) {
    n++;
    const { score, bpm } = randomLine(900 + n);
    const inst = instrumentById(id || "clarinet");
    let part = id === "snare" ? derivePart(score, instrumentById("clarinet"), "widening").score : derivePart(score, inst, "widening").score;
    const random = seededRandom(n);
    const opts = id === "snare" ? { bpm, mode: "rhythm" as const } : { bpm, ...(id ? { instrumentId: id } : {}) };
    for (const voice of ["en+f2", "en+m3", "en+f4", "en+m7"]) {
      const t = TEXTS[(n + voice.length + seed) % TEXTS.length]!;
      const s = assess(part, { samples: spoken(t, voice), sampleRate: RATE }, opts);
      add(`${id} speech`, s.take.status);
      if (s.take.status === "assessed" && process.env.TELL) console.log(id, seed, voice, t, s.notes.filter(x => x.verdict === "ok").length, s.notes.length);
    }
    add(`${id} noise`, assess(part, { samples: roomNoise(RATE * 12, random).map(x => x * 0.05), sampleRate: RATE }, opts).take.status);
    add(`${id} hum`, assess(part, { samples: Float32Array.from({ length: RATE * 12 }, (_, i) => 0.1 * Math.sin(2 * Math.PI * 50 * i / RATE) + 0.05 * Math.sin(2 * Math.PI * 100 * i / RATE) + 0.03 * Math.sin(2 * Math.PI * 150 * i / RATE)+0.002*(random()-.5)), sampleRate: RATE }, opts).take.status);
    add(`${id} silence`, assess(part, { samples: Float32Array.from({ length: RATE * 8 }, () => 0.0003 * (random() - 0.5)), sampleRate: RATE }, opts).take.status);
  }
}
// other pieces
for (const source of SOURCES.filter(s => !s.heldOut)) {
  const bank = await source.load();
  const inst = instrumentById(source.instrument);
  for (let seed = 1; seed <= 6; seed++) {
    const a = randomLine(700 + seed), b = randomLine(800 + seed * 3);
    const played = perform(derivePart(a.score, inst, "widening").score, bank, a.bpm, inst, { ...CAREFUL, seed });
    const s = assess(derivePart(b.score, inst, "widening").score, played.pcm, { bpm: b.bpm, instrumentId: source.instrument });
    add("other piece " , s.take.status);
    if (s.take.status === "assessed") console.log("OTHER", source.name, seed, s.notes.filter(x => x.verdict === "ok").length, s.notes.length, s.extras.length);
    const unknown = assess(derivePart(a.score, inst, "widening").score, played.pcm, { bpm: a.bpm });
    add("own piece, instrument unknown", unknown.take.status);
    if (unknown.take.status !== "assessed") console.log("UNKNOWN", source.name, seed, unknown.take.status);
  }
}
for (const [k, v] of Object.entries(tally)) console.log(k, JSON.stringify(v));
