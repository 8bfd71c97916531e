import type { Features } from "./features";
import { loudest } from "./levels";
import type { Segment } from "./segments";

/** Signs of a new attack on one pitch inside one unbroken sound: a dip in level, a lasting fall, a scoop of the pitch. */
const SEAM = { dipDb: 1.8, fallDb: 7, scoop: 0.2, apart: 8 };

/**
 * Where one unbroken sound may begin anew on its pitch: at dips in level, where the level falls for good, where the pitch
 * is off for a moment. Most of them mean nothing; one where a note is due does.
 */
export function seamsOf({ outlineDb, midi, fineHopSec, pitchHopSec }: Features, segment: Segment): number[] {
  const from = Math.round((segment.onsetSec + 0.06) / fineHopSec);
  const to = Math.round((segment.offsetSec - 0.05) / fineHopSec);
  const signs: { fine: number; strength: number }[] = [];
  for (let g = from; g <= to; g++) {
    const here = outlineDb[g]!;
    const before = loudest(outlineDb, Math.max(0, g - 16), g);
    const after = loudest(outlineDb, g, g + 17);
    const dip = Math.min(before, after) - here;
    if (dip >= SEAM.dipDb && here <= outlineDb[g - 1]! && here <= (outlineDb[g + 1] ?? here))
      signs.push({ fine: g, strength: dip / SEAM.dipDb });
    const fall = loudest(outlineDb, Math.max(0, g - 12), g - 6) - loudest(outlineDb, g + 2, g + 20);
    if (fall >= SEAM.fallDb) signs.push({ fine: g, strength: fall / SEAM.fallDb });
  }
  const perFrame = pitchHopSec / fineHopSec;
  for (let f = Math.ceil(from / perFrame) + 1; f <= to / perFrame; f++) {
    const away = Math.min(Math.abs(midi[f]! - segment.midi!), Math.abs(midi[f - 1]! - segment.midi!));
    if (midi[f] !== 0 && midi[f - 1] !== 0 && away >= SEAM.scoop && away < 1.5)
      signs.push({ fine: Math.round(f * perFrame), strength: away / SEAM.scoop });
  }
  // Of signs close together the strongest stands.
  const kept: number[] = [];
  for (const sign of signs.sort((a, b) => b.strength - a.strength))
    if (kept.every((each) => Math.abs(each - sign.fine) >= SEAM.apart)) kept.push(sign.fine);
  return kept.map((fine) => fine * fineHopSec).sort((a, b) => a - b);
}
