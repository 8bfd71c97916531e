import { assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { derivePart } from "../../src/core/score";
import { randomLine } from "../support/random-line";
import { CONDITIONS, withPlayAlong } from "../support/conditions";
import { SOURCES } from "./hearing";
import { CAREFUL, perform } from "../support/performer";
const out: Record<string, number[]> = {};
for (const source of SOURCES.filter(s => !s.heldOut && s.instrument !== "xylophone" && s.instrument !== "bells")) {
  const bank = await source.load(); const inst = instrumentById(source.instrument);
  for (let seed = 1; seed <= 4; seed++) {
    const a = randomLine(600 + seed); const part = derivePart(a.score, inst, "widening").score;
    const take = perform(part, bank, a.bpm, inst, { ...CAREFUL, seed, wrong: 0.08, missed: 0.06 });
    const scene = { take, part, instrument: inst, bank, askedBpm: a.bpm, seed };
    const variants: Record<string, any> = { clean: take.pcm, "-26": withPlayAlong(take.pcm, scene, -26), "-18": withPlayAlong(take.pcm, scene, -18), "-12": withPlayAlong(take.pcm, scene, -12), "-6": withPlayAlong(take.pcm, scene, -6), "0": withPlayAlong(take.pcm, scene, 0), room: CONDITIONS["a tiled room (1.2 s)"]!(scene).pcm, neighbour: CONDITIONS["somebody else practising faintly"]!(scene).pcm, noise: CONDITIONS["noise 10 dB below"]!(scene).pcm };
    for (const [k, pcm] of Object.entries(variants)) { const r = assess(part, pcm, { bpm: a.bpm, instrumentId: source.instrument }); (out[k] ??= []).push(r.take.status === "assessed" ? (r.take.flags.includes("reference-bleed") ? 1 : 0) : 2); }
  }
}
for (const [k, v] of Object.entries(out)) console.log(k, "flagged", v.filter(x => x === 1).length, "of", v.length, "unassessed", v.filter(x => x === 2).length);
