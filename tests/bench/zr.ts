import { execFileSync } from "node:child_process";
import { assess } from "../../src/core/listen";
import { derivePart, timeline } from "../../src/core/score";
import { instrumentById } from "../../src/core/music";
import { randomLine } from "../support/random-line";
import { CONDITIONS, spoken } from "../support/conditions";
import { CAREFUL } from "../support/performer";
import { renderBank, RATE, rootMeanSquare, audibleAttack, type Bank } from "../support/sounds";
import { seededRandom, bell } from "../../demo/random";
import { f1 } from "./hearing-tally";
const drums = renderBank("small", 0, [37, 77], true);
const one = (m: number) => [drums.find(n => n.midi === Math.round(m)) ?? drums.reduce((a, b) => Math.abs(a.midi - m) < Math.abs(b.midi - m) ? a : b)];
const voice = (v: string) => { const s = spoken("ta", v); return [{ midi: 60, samples: s, attackSec: audibleAttack(s, RATE), rms: rootMeanSquare(s) }]; };
const sounds: Record<string, Bank> = { snare: [drums.find(n => Math.abs(n.midi - 38) < 0.6)!], claps: [drums.find(n => Math.abs(n.midi - 39) < .6)!], stick: [drums.find(n => Math.abs(n.midi - 37) < .6)!], block: [drums.find(n => Math.abs(n.midi - 76) < .6)!], "counting f": voice("en+f3"), "counting m": voice("en+m3") };
for (const [name, bank] of Object.entries(sounds)) {
  const note = bank[0]!;
  if (!note) { console.log(name, "no sound"); continue; }
  for (const condition of ["clean","a click bleeding in","very quiet"]) {
    let [hit, fa, over, right] = [0, 0, 0, 0]; let extras = 0; const offs: number[] = []; let known = 0, takes = 0; let tBad = 0, tMiss = 0, tHit = 0;
    for (let seed = 1; seed <= 5; seed++) {
      const { score, bpm } = randomLine(seed + 40);
      const part = derivePart(score, instrumentById("clarinet"), "widening").score;
      const random = seededRandom(seed * 31 + name.length);
      const tempo = 0.8 + 0.4 * random();
      const line = timeline(part, { bpm: bpm * tempo });
      const samples = new Float32Array(Math.round((line.totalSec + 4) * RATE));
      const played = new Map<number, { at: number, placed: number }>();
      for (const n of line.notes) {
        if (random() < 0.06) continue;
        let at = 1 + n.onsetSec + 0.012 * bell(random); let placed = 0;
        if (random() < 0.06 && n.index > 0) { placed = (random() < .5 ? -1 : 1) * (0.11 + 0.05 * random()); at += placed; }
        const from = Math.round((at - note.attackSec) * RATE); const gain = 0.1 / note.rms * 10 ** (bell(random) * 2 / 20);
        for (let i = 0; i < note.samples.length && i < RATE * 0.5; i++) if (from + i >= 0 && from + i < samples.length) samples[from + i]! += gain * note.samples[i]!;
        played.set(n.index, { at, placed });
      }
      const take = { pcm: { samples, sampleRate: RATE }, played: [], extras: [], breaks: [], bpm: bpm * tempo };
      const heard = CONDITIONS[condition]!({ take, part, instrument: instrumentById("clarinet"), bank, askedBpm: bpm, seed } as never);
      const r = assess(part, heard.pcm, { bpm, mode: "rhythm" }); takes++;
      if (r.take.status === "assessed") known++; else console.log(name, condition, seed, r.take.status);
      extras += r.extras.length;
      for (const n of line.notes) { const t = played.get(n.index); const s = r.notes[n.index]; const found = !s || s.verdict !== "ok"; if (!t && found) hit++; else if (!t) over++; else if (found) fa++; if (t) right++; if (t && s?.onset != null) { offs.push(Math.abs(s.onset - t.at) * 1000); const said = s.timing !== "ok"; if (t.placed && said) tHit++; else if (t.placed) tMiss++; else if (said) tBad++; } }
    }
    offs.sort((a, b) => a - b);
    console.log(name.padEnd(12), condition.padEnd(22), `F1 ${f1([hit, fa, over]).toFixed(3)} (${hit}/${fa}/${over}) FA ${(100 * fa / right).toFixed(2)} extras ${extras} known ${known}/${takes} onset ${offs[offs.length >> 1]?.toFixed(0)}/${offs[Math.floor(offs.length * .95)]?.toFixed(0)} time ${f1([tHit, tBad, tMiss]).toFixed(2)} (${tHit}/${tBad}/${tMiss})`);
  }
}
