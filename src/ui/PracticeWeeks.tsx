import { addDays } from "../core/calendar";
import { mondayOf } from "../core/plan";
import { minutesOf } from "../core/practice";

interface Props {
  /** Days with practice, in any order. */
  days: readonly { day: string; seconds: number; ownMinutes: number }[];
  /** Local day. */
  today: string;
  by: "times" | "minutes";
}

const WEEKS = 4;
const NAMES = ["this week", "last week", "2 weeks ago", "3 weeks ago"];

/** Four weeks of practice, Monday first: minutes by day, and what they come to. */
export function PracticeWeeks({ days, today, by }: Props) {
  const minutes = new Map(days.map((each) => [each.day, minutesOf([each]) + each.ownMinutes] as const));
  const monday = mondayOf(today);
  return (
    <table className="w-full text-center text-sm" data-testid="practice-weeks">
      <thead>
        <tr>
          <th className="text-left font-normal text-quiet">week</th>
          {["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"].map((name) => (
            <th key={name} className="font-normal text-quiet">
              <span className="sm:hidden" aria-hidden="true">
                {name.slice(0, 2)}
              </span>
              <span className="sr-only sm:not-sr-only">{name}</span>
            </th>
          ))}
          <th className="text-right font-normal text-quiet">in all</th>
        </tr>
      </thead>
      <tbody>
        {Array.from({ length: WEEKS }, (_, back) => {
          const week = Array.from({ length: 7 }, (_, i) => addDays(monday, i - 7 * back));
          const sum = week.reduce((all, day) => all + (minutes.get(day) ?? 0), 0);
          const practised = week.filter((day) => minutes.has(day)).length;
          return (
            <tr key={week[0]} className="border-t border-base-300">
              <th scope="row" className="py-2 text-left font-normal">
                {NAMES[back]}
              </th>
              {week.map((day) => (
                <td key={day} className={minutes.has(day) ? "font-bold text-done" : "text-quiet"}>
                  {minutes.get(day) ?? (day > today ? "" : "–")}
                </td>
              ))}
              <td className="text-right font-bold">
                {by === "times" ? `${practised} ${practised === 1 ? "day" : "days"}` : `${sum} min`}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
