import { isCompound, type Metre } from "../core/rhythm";
import { beatOfMetre, fractionToNumber, type ScoreEvent } from "../core/score";

/** What an attack was against the player's own beat. */
export interface TimeBead {
  kind: "ok" | "early" | "late" | "missed";
  /** Distance from the beat, ms; + is late. */
  ms: number;
}

interface Props {
  events: readonly ScoreEvent[];
  metre: Metre;
  label: string;
  /** Shows the metre before the first note. */
  withMetre?: boolean;
  /** Words under heads and rests, by event id. */
  words?: ReadonlyMap<string, string>;
  /** Beads on the time string, by event id. */
  beads?: ReadonlyMap<string, TimeBead>;
  /** The head that sounds now. */
  cursorId?: string | null;
  /** Larger for a projector. */
  scale?: number;
}

const BEAT_WIDTH = 92;
const LEFT = 14;
const METRE_WIDTH = 30;
const LINE_Y = 44;
const STEM = 30;
const BEAM_LEVELS: Record<string, number> = { eighth: 1, "16th": 2, "32nd": 3 };
/** Pixels of the time string a bead moves for 100 ms. */
const BEAD_SHIFT = 14;

/** One bar of rhythm on a line, drawn at once and without an engraver: heads, stems, beams by the beat, rests, ties. */
export function RhythmStaff({
  events,
  metre,
  label,
  withMetre = false,
  words,
  beads,
  cursorId,
  scale = 1,
}: Props) {
  const beat = fractionToNumber(beatOfMetre(metre));
  const perQuarter = (isCompound(metre) ? 1.25 : 1) * (BEAT_WIDTH / beat);
  const start = LEFT + (withMetre ? METRE_WIDTH : 0);
  let at = 0;
  const placed = events.map((event) => {
    const x = start + at * perQuarter + 8;
    const inBeat = Math.floor(at / beat + 1e-6);
    at += fractionToNumber(event.duration);
    return { event, x, beat: inBeat };
  });
  const width = start + at * perQuarter + 12;
  const height = 78 + (words ? 18 : 0) + (beads ? 38 : 0);
  const wordsY = LINE_Y + 36;
  const stringY = LINE_Y + 32 + (words ? 18 : 0) + 12;
  const beamed = beamRuns(placed);
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width={width * scale}
      height={height * scale}
      className="max-w-full overflow-visible"
      role="img"
      aria-label={label}
    >
      <line x1={4} x2={width - 4} y1={LINE_Y} y2={LINE_Y} stroke="currentColor" strokeWidth={1} />
      <line
        x1={width - 4}
        x2={width - 4}
        y1={LINE_Y - 14}
        y2={LINE_Y + 14}
        stroke="currentColor"
        strokeWidth={1.5}
      />
      {withMetre && (
        <g fontSize={18} fontWeight={700} textAnchor="middle" fill="currentColor">
          <text x={LEFT + 8} y={LINE_Y - 3}>
            {metre.beats}
          </text>
          <text x={LEFT + 8} y={LINE_Y + 15}>
            {metre.beatType}
          </text>
        </g>
      )}
      {placed.map(({ event, x }, i) => (
        <g key={event.id}>
          {event.id === cursorId && (
            <rect
              x={x - 12}
              y={6}
              width={26}
              height={LINE_Y + 12}
              rx={4}
              fill="#f0e2bf"
              style={{ mixBlendMode: "multiply" }}
            />
          )}
          {event.kind === "rest" ? (
            <Rest type={event.type} x={x} />
          ) : (
            <Head event={event} x={x} flagged={!beamed.has(event.id)} />
          )}
          {event.dots > 0 && <circle cx={x + 10} cy={LINE_Y - 4} r={1.8} fill="currentColor" />}
          {event.tieStart && placed[i + 1] && (
            <path
              d={`M ${x + 2} ${LINE_Y + 9} Q ${(x + placed[i + 1]!.x) / 2} ${LINE_Y + 19} ${placed[i + 1]!.x - 2} ${LINE_Y + 9}`}
              fill="none"
              stroke="currentColor"
              strokeWidth={1.6}
            />
          )}
          {event.tuplet?.start && (
            <text
              x={x + 0.5 * beat * perQuarter}
              y={9}
              fontSize={12}
              fontStyle="italic"
              textAnchor="middle"
              fill="currentColor"
            >
              3
            </text>
          )}
          {words?.get(event.id) && (
            <text x={x} y={wordsY} fontSize={14} textAnchor="middle" fill="currentColor">
              {words.get(event.id)}
            </text>
          )}
        </g>
      ))}
      <Beams placed={placed} />
      {beads && (
        <g>
          <line x1={start} x2={width - 8} y1={stringY} y2={stringY} stroke="#52615e" strokeWidth={0.8} />
          {placed.map(({ event, x }) => {
            const bead = beads.get(event.id);
            if (!bead) return null;
            const shift = Math.max(-18, Math.min(18, (bead.ms / 100) * BEAD_SHIFT));
            if (bead.kind === "missed")
              return (
                <circle
                  key={event.id}
                  cx={x}
                  cy={stringY}
                  r={6}
                  fill="none"
                  stroke="#7a2e5d"
                  strokeWidth={2}
                />
              );
            return bead.kind === "ok" ? (
              <circle key={event.id} cx={x} cy={stringY} r={3.5} fill="#16302f" />
            ) : (
              <g key={event.id}>
                <circle cx={x + shift} cy={stringY} r={6} fill="#7a2e5d" />
                <text x={x + shift} y={stringY + 18} fontSize={11} textAnchor="middle" fill="#7a2e5d">
                  {bead.kind}
                </text>
              </g>
            );
          })}
        </g>
      )}
    </svg>
  );
}

type Placed = { event: ScoreEvent; x: number; beat: number };

function Head({ event, x, flagged }: { event: ScoreEvent; x: number; flagged: boolean }) {
  const open = event.type === "half" || event.type === "whole" || event.type === "breve";
  const levels = flagged ? (BEAM_LEVELS[event.type] ?? 0) : 0;
  return (
    <g>
      <ellipse
        cx={x}
        cy={LINE_Y}
        rx={6.2}
        ry={4.4}
        transform={`rotate(-20 ${x} ${LINE_Y})`}
        fill={open ? "none" : "currentColor"}
        stroke="currentColor"
        strokeWidth={open ? 1.8 : 1}
      />
      {event.type !== "whole" && event.type !== "breve" && (
        <line
          x1={x + 5.6}
          x2={x + 5.6}
          y1={LINE_Y - 2}
          y2={LINE_Y - STEM}
          stroke="currentColor"
          strokeWidth={1.4}
        />
      )}
      {Array.from({ length: levels }, (_, level) => (
        <path
          key={level}
          d={`M ${x + 5.6} ${LINE_Y - STEM + 7 * level} q 8 6 6 15`}
          fill="none"
          stroke="currentColor"
          strokeWidth={2}
        />
      ))}
    </g>
  );
}

function Rest({ type, x }: { type: ScoreEvent["type"]; x: number }) {
  if (type === "whole" || type === "half")
    return (
      <rect x={x - 6} y={type === "whole" ? LINE_Y : LINE_Y - 5} width={12} height={5} fill="currentColor" />
    );
  if (type === "quarter")
    return (
      <path
        d={`M ${x - 3} ${LINE_Y - 14} l 6 8 q -5 4 0 9 l 2 3 q -8 -3 -5 4 q -8 -6 0 -9 l -5 -6 q 5 -4 2 -9 z`}
        fill="currentColor"
      />
    );
  const levels = BEAM_LEVELS[type] ?? 1;
  return (
    <g stroke="currentColor" fill="none" strokeWidth={1.8}>
      {Array.from({ length: levels }, (_, level) => (
        <g key={level}>
          <circle cx={x - 3} cy={LINE_Y - 7 + 6 * level} r={2} fill="currentColor" stroke="none" />
          <path d={`M ${x - 3} ${LINE_Y - 6 + 6 * level} q 5 2 7 -3`} />
        </g>
      ))}
      <line x1={x + 4} y1={LINE_Y - 9} x2={x - 1} y2={LINE_Y + 11 + 3 * (levels - 1)} />
    </g>
  );
}

/** Runs of eighths and shorter inside one beat. */
function runsOf(placed: readonly Placed[]): Placed[][] {
  const runs: Placed[][] = [];
  for (const each of placed) {
    const last = runs.at(-1);
    const short = each.event.kind === "note" && BEAM_LEVELS[each.event.type] !== undefined;
    if (short && last && last.length > 0 && last[0]!.beat === each.beat) last.push(each);
    else runs.push(short ? [each] : []);
  }
  return runs.filter((run) => run.length > 1);
}

function beamRuns(placed: readonly Placed[]): Set<string> {
  return new Set(runsOf(placed).flatMap((run) => run.map(({ event }) => event.id)));
}

function Beams({ placed }: { placed: readonly Placed[] }) {
  const bars: { x1: number; x2: number; level: number }[] = [];
  for (const run of runsOf(placed))
    for (let level = 1; level <= 3; level++)
      run.forEach(({ event, x }, i) => {
        if ((BEAM_LEVELS[event.type] ?? 0) < level) return;
        const next = run[i + 1];
        const joined = next && (BEAM_LEVELS[next.event.type] ?? 0) >= level;
        const before = run[i - 1] && (BEAM_LEVELS[run[i - 1]!.event.type] ?? 0) >= level;
        if (joined) bars.push({ x1: x, x2: next.x, level });
        else if (!before) bars.push({ x1: i === 0 ? x : x - 9, x2: i === 0 ? x + 9 : x, level });
      });
  return (
    <g>
      {bars.map(({ x1, x2, level }) => (
        <line
          key={`${x1}-${level}-${x2}`}
          x1={x1 + 5}
          x2={x2 + 6.2}
          y1={LINE_Y - STEM + 7 * (level - 1)}
          y2={LINE_Y - STEM + 7 * (level - 1)}
          stroke="currentColor"
          strokeWidth={4}
        />
      ))}
    </g>
  );
}
