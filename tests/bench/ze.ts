import { SOURCES, outcomes } from "./hearing";
import { extractFeatures } from "../../src/core/listen/features";
import { CONDITIONS } from "../support/conditions";
import { timeline } from "../../src/core/score";
import { instrumentById } from "../../src/core/music";
const src = process.argv[2]!, only = new RegExp(process.argv[3]!), from = Number(process.argv[4]), to = Number(process.argv[5]);
let once = 0; for await (const o of outcomes(SOURCES.filter(s => s.name === src), 40, only)) { if (once++) break;
  const line = timeline(o.part);
  const bank = await SOURCES.find(s => s.name === src)!.load();
  const heard = CONDITIONS[o.condition]!({ take: o.take, part: o.part, instrument: instrumentById(SOURCES.find(s => s.name === src)!.instrument), bank, askedBpm: 0, seed: o.seed });
  const midis = line.notes.map(n => n.midi!);
  const f = extractFeatures(heard.pcm, { lowest: Math.min(...midis) - 13, highest: Math.max(...midis) + 13, struckBars: process.argv[6] === "bars", expected: [...new Set(midis)] });
  for (let i = Math.round(from / f.pitchHopSec); i < to / f.pitchHopSec; i++) console.log((i * f.pitchHopSec).toFixed(3), f.midi[i]!.toFixed(2), f.clarity[i]!.toFixed(3), "r", f.rivals[i], "outl", f.outlineDb[2*i]!.toFixed(1), f.outlineDb[2*i+1]!.toFixed(1), "level", f.levelDb[2 * i]!.toFixed(1), f.levelDb[2 * i + 1]!.toFixed(1), "flux", f.flux[2*i]!.toFixed(4), f.flux[2*i+1]!.toFixed(4));
}
