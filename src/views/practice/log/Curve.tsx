interface Props {
  title: string;
  points: readonly { day: string; value: number }[];
  goal: number;
}

const WIDTH = 320;
const HEIGHT = 80;

/** A few days of one number, with its goal as a line. Small enough to need no chart library on a phone. */
export function Curve({ title, points, goal }: Props) {
  const top = Math.max(goal, ...points.map(({ value }) => value)) * 1.1;
  const least = Math.min(goal, ...points.map(({ value }) => value));
  // Growth is seen from a little under the lowest, not from nothing.
  const bottom = Math.max(0, least - 0.6 * (top - least));
  const x = (i: number) => 8 + (i * (WIDTH - 52)) / Math.max(1, points.length - 1);
  const y = (value: number) => HEIGHT - 6 - ((value - bottom) / (top - bottom)) * (HEIGHT - 20);
  const last = points.at(-1)!;
  return (
    <figure>
      <figcaption className="font-bold">{title}</figcaption>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full max-w-lg"
        role="img"
        aria-label={`${title}: ${points.map(({ day, value }) => `${day} ${value}`).join(", ")}; goal ${goal}`}
      >
        <path d={`M8 ${y(goal)}H${WIDTH - 36}`} className="stroke-accent" strokeDasharray="4 4" />
        <text x={8} y={y(goal) - 4} className="fill-quiet text-[11px]">
          goal {goal}
        </text>
        <polyline
          points={points.map(({ value }, i) => `${x(i)},${y(value)}`).join(" ")}
          className="fill-none stroke-done"
          strokeWidth="2"
        />
        {points.map(({ day, value }, i) => (
          <circle key={day} cx={x(i)} cy={y(value)} r="3.5" className="fill-done" />
        ))}
        <text
          x={x(points.length - 1) + 8}
          y={y(last.value) + 4}
          className="fill-base-content text-[12px] font-bold"
        >
          {Math.round(last.value * 10) / 10}
        </text>
      </svg>
    </figure>
  );
}
