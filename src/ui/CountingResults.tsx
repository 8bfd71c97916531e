import type { CountingDay } from "../core/practice";
import { COUNTING_NAMES, dayName } from "./wording";

interface Props {
  counting: readonly { activity: string; days: readonly CountingDay[] }[];
}

/** So many days are shown, the last ones. */
const SHOWN = 8;

/** What was right in counting, by activity and day: a bar a day, its share in words beside. */
export function CountingResults({ counting }: Props) {
  return (
    <ul className="flex flex-col gap-3" data-testid="counting-results">
      {counting.map(({ activity, days }) => {
        const last = days.at(-1)!;
        return (
          <li key={activity} className="flex flex-wrap items-end gap-x-4 gap-y-1">
            <span className="min-w-44">
              {COUNTING_NAMES[activity as keyof typeof COUNTING_NAMES] ?? activity}
            </span>
            <span className="flex h-8 items-end gap-1" aria-hidden="true">
              {days.slice(-SHOWN).map(({ day, right, of }) => (
                <span key={day} className="flex h-full w-3 items-end rounded-sm bg-base-300">
                  <span
                    className="w-full rounded-sm bg-done"
                    style={{ height: `${Math.round((100 * right) / of)}%` }}
                  />
                </span>
              ))}
            </span>
            <span className="tabular-nums">
              {last.right} of {last.of} right, {dayName(last.day)}
            </span>
          </li>
        );
      })}
    </ul>
  );
}
