import { type RefObject, useEffect, useRef } from "react";

/** One moment of a tone. */
export interface Trace {
  atSec: number;
  cents: number | null;
  levelDb: number;
  brightHz: number;
  sounding: boolean;
}

const SHOWN_SEC = 12;
/** Room for the names of the rows, pixels. */
const LABELS = 78;
const ROWS = [
  { name: "pitch", ink: "#1F6F6B" },
  { name: "loudness", ink: "#16302F" },
  { name: "tone", ink: "#7F530E" },
] as const;

/**
 * Three traces against a quiet band, drawn as they come: no component is drawn anew for it. Pitch against the note, loudness
 * and brightness against their own middle so far.
 */
export function Traces({
  traces,
  running,
  inTuneCents,
}: {
  traces: RefObject<Trace[]>;
  running: boolean;
  inTuneCents: number;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const paper = canvas.current;
    const pen = paper?.getContext("2d");
    if (!paper || !pen) return;
    let frame = 0;
    let middles = { atSec: Number.NEGATIVE_INFINITY, level: 0, bright: 0 };
    const draw = () => {
      const scale = devicePixelRatio || 1;
      const [width, height] = [paper.clientWidth, paper.clientHeight];
      if (paper.width !== width * scale) {
        paper.width = width * scale;
        paper.height = height * scale;
      }
      pen.setTransform(scale, 0, 0, scale, 0, 0);
      pen.clearRect(0, 0, width, height);
      const all = traces.current ?? [];
      const until = Math.max(SHOWN_SEC, all.at(-1)?.atSec ?? 0);
      // What has left the picture is not looked at again.
      let from = all.length;
      while (from > 0 && all[from - 1]!.atSec > until - SHOWN_SEC) from--;
      const seen = all.slice(from).filter(({ sounding }) => sounding);
      // The middles move slowly: four times a second is enough.
      if (until - middles.atSec > 0.25 || until < middles.atSec)
        middles = {
          atSec: until,
          level: middle(seen.map(({ levelDb }) => levelDb)),
          bright: middle(seen.map(({ brightHz }) => brightHz)),
        };
      const { level, bright } = middles;
      const rows = [
        {
          band: inTuneCents / 50,
          of: (t: Trace) => (t.cents === null || Math.abs(t.cents) > 60 ? null : t.cents / 50),
        },
        { band: 0.25, of: (t: Trace) => (t.levelDb - level) / 8 },
        { band: 0.25, of: (t: Trace) => (bright > 0 ? Math.log2(Math.max(1, t.brightHz) / bright) : 0) },
      ];
      rows.forEach(({ band, of }, row) => {
        const rowHeight = height / rows.length;
        const centre = (row + 0.5) * rowHeight;
        const half = rowHeight / 2 - 6;
        pen.fillStyle = "#F0E2BF";
        pen.fillRect(LABELS, centre - band * half, width - LABELS, 2 * band * half);
        pen.fillStyle = "#52615E";
        pen.font = "14px sans-serif";
        pen.fillText(ROWS[row]!.name, 0, centre + 5);
        pen.strokeStyle = ROWS[row]!.ink;
        pen.lineWidth = 2;
        pen.beginPath();
        let open = false;
        for (const trace of seen) {
          const value = of(trace);
          const x = LABELS + ((trace.atSec - (until - SHOWN_SEC)) / SHOWN_SEC) * (width - LABELS);
          if (value === null) open = false;
          else {
            const y = centre - Math.max(-1, Math.min(1, value)) * half;
            if (open) pen.lineTo(x, y);
            else pen.moveTo(x, y);
            open = true;
          }
        }
        pen.stroke();
      });
      if (running) frame = requestAnimationFrame(draw);
    };
    draw();
    return () => cancelAnimationFrame(frame);
  }, [traces, running, inTuneCents]);
  return (
    <canvas
      ref={canvas}
      className="h-44 w-full"
      role="img"
      aria-label="Pitch, loudness and tone as you play"
    />
  );
}

function middle(values: number[]): number {
  const sorted = values.sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? 0;
}
