import { extractFeatures } from "../../src/core/listen/features";
import { pitchedSegments } from "../../src/core/listen/segments";
import { spoken, CONDITIONS } from "../support/conditions";
import { RATE } from "../support/sounds";
import { SOURCES } from "./hearing";
import { CAREFUL, perform } from "../support/performer";
import { randomLine } from "../support/random-line";
import { instrumentById } from "../../src/core/music";
import { derivePart } from "../../src/core/score";
const TEXTS = ["One, two, ready, go.", "Hello teacher, I could not practise this week because my clarinet is broken and my dog was ill, so I will send it tomorrow.", "La la la la laa, la la la laa", "Okay, so, um, this is line twenty three. Mum, can you please be quiet? I am recording. No, not now. Okay. Never mind, I will do it again later.", "ha ha ha ha ha ha ha"];
const show = (name: string, pcm: any, lo: number, hi: number) => {
  const f = extractFeatures(pcm, { lowest: lo, highest: hi });
  const segs = pitchedSegments(f);
  const dur = (x: any) => x.offsetSec - x.onsetSec;
  const total = segs.reduce((a, x) => a + dur(x), 0);
  const sh = (p: (x: any) => boolean) => (segs.filter(p).reduce((a, x) => a + dur(x), 0) / total).toFixed(2);
  console.log(name, "segs", segs.length, "total", total.toFixed(1), "slow", sh(x => Math.abs(x.glide) < 1.5 && x.spread < 0.25), "slow1", sh(x => Math.abs(x.glide) < 1 && x.spread < 0.25 ), "long.2", sh(x => dur(x) >= 0.2 && Math.abs(x.glide) < 1.5), "long.15", sh(x => dur(x) >= 0.15 && x.spread < .25 && Math.abs(x.glide) < 2));
};
for (const t of TEXTS) for (const v of ["en+f2", "en+m3", "en+f4", "en+m7"]) show("speech " + t.slice(0, 10) + v, { samples: spoken(t, v), sampleRate: RATE }, v.includes("m") ? 36 : 48, 80);
for (const src of SOURCES.filter(s => !s.heldOut && s.instrument !== "bells" && s.instrument !== "xylophone")) {
  const bank = await src.load(); const inst = instrumentById(src.instrument);
  const a = randomLine(777); const part = derivePart(a.score, inst, "widening").score;
  const wav = perform(part, bank, a.bpm, inst, { ...CAREFUL, seed: 3, vibratoCents: 25, wanderCents: 14, scoopCents: 60, unevenDb: 2.5, tempo: 1.3 });
  const m = part.parts[0].measures.flatMap(x => x.events).length;
  for (const c of ["clean", "a tiled room (1.2 s)", "noise 10 dB below"]) show(src.name + " " + c, CONDITIONS[c]!({ take: wav, part, instrument: inst, bank, askedBpm: a.bpm, seed: 3 }).pcm, bank[0]!.midi, bank.at(-1)!.midi);
}
