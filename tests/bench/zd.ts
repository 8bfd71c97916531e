import { SOURCES, outcomes } from "./hearing";
import { extractFeatures } from "../../src/core/listen/features";
import { pitchedSegments } from "../../src/core/listen/segments";
import { CONDITIONS } from "../support/conditions";
import { timeline } from "../../src/core/score";
import { instrumentById } from "../../src/core/music";
const src = process.argv[2]!, only = new RegExp(process.argv[3]!);
let once = 0; for await (const o of outcomes(SOURCES.filter(s => s.name === src), 40, only)) { if (once++) break;
  const line = timeline(o.part);
  console.log(o.source, o.condition, o.way, o.seed, JSON.stringify(o.result.take), "true bpm", o.take.bpm.toFixed(1), JSON.stringify(o.take.breaks));
  const bank = await SOURCES.find(s => s.name === src)!.load();
  const heard = CONDITIONS[o.condition]!({ take: o.take, part: o.part, instrument: instrumentById(SOURCES.find(s => s.name === src)!.instrument), bank, askedBpm: 0, seed: o.seed });
  const midis = line.notes.map(n => n.midi!);
  const f = extractFeatures(heard.pcm, { lowest: Math.min(...midis) - 13, highest: Math.max(...midis) + 13, struckBars: process.argv[6]==="bars", expected: [...new Set(midis)] });
  const segs = pitchedSegments(f);
  const rows: [number, string][] = [];
  for (const t of o.take.played) { const s = o.result.notes[t.index]; rows.push([t.atSec + o.delaySec, `T ${(t.atSec + o.delaySec).toFixed(3)}-${(t.endSec + o.delaySec).toFixed(3)} #${t.index} ${t.midi.toFixed(2)} ${t.wrong ?? ""} ${t.flags.join()} ${t.slurred ? "smooth" : ""} | said ${s?.verdict} ${s?.onset} ${s?.playedMidi} ${s?.timingMs}`]); }
  for (const e of o.take.extras) rows.push([e.atSec, `T extra ${e.atSec.toFixed(3)}`]);
  for (const s of segs) rows.push([s.onsetSec, `    S ${s.onsetSec.toFixed(3)}-${s.offsetSec.toFixed(3)} ${s.midi!.toFixed(2)} spread ${s.spread.toFixed(2)} clar ${s.clarity.toFixed(2)} att ${s.attackDb.toFixed(1)} gap ${s.gapSec.toFixed(3)} peak ${s.peakDb.toFixed(0)}`]);
  rows.sort((a, b) => a[0] - b[0]);
  console.log(rows.map(r => r[1]).join("\n"));
}
