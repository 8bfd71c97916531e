import { type Terms, weightedMark } from "../../core/practice";
import type { Criterion } from "../../core/progress";

/** Marks by criterion, 1 to 4; what is not marked is left out. */
export type Marks = Partial<Record<Criterion, number>>;

const LEVELS = ["not yet", "partly", "mostly", "steady"];

interface Props {
  /** The band's words for what is marked. */
  words: Record<Criterion, string>;
  marks: Marks;
  proposed: Marks;
  /** What is marked, in order. */
  criteria: readonly Criterion[];
  /** How much each counts; everything alike when null. */
  weights: Terms["criteria"];
  /** Index of the criterion that the number keys mark. */
  chosen: number;
  mark: (criterion: number, level: number) => void;
}

/** The director's own marks beside what the bench would say; nothing is kept that was not chosen. */
export function YourEar({ words, marks, proposed, criteria, weights, chosen, mark }: Props) {
  const whole = weightedMark(marks, weights);
  return (
    <>
      <div className="flex flex-col gap-1">
        {criteria.map((name, index) => (
          <div
            key={name}
            className={`flex items-center gap-1 rounded px-1 ${chosen === index ? "bg-reed/60" : ""}`}
            role="radiogroup"
            aria-label={words[name]}
          >
            <span className="w-22 break-words text-sm">
              {words[name]}
              {weights && <span className="text-quiet"> × {weightOf(weights, name)}</span>}
            </span>
            {LEVELS.map((word, place) => (
              <Level
                key={word}
                group={words[name]}
                word={word}
                level={place + 1}
                on={marks[name] === place + 1}
                suggested={proposed[name] === place + 1}
                choose={() => mark(index, place + 1)}
              />
            ))}
          </div>
        ))}
      </div>
      <p className="text-sm text-quiet">
        1 not yet, 2 partly, 3 mostly, 4 steady. Dashed: what the bench would say; only what you choose is
        kept.
        {weights && whole !== null && ` Together ${Math.round(whole * 10) / 10} of 4.`}
      </p>
    </>
  );
}

const weightOf = (weights: NonNullable<Terms["criteria"]>, name: Criterion) =>
  weights.find(({ criterion }) => criterion === name)?.weight ?? 0;

interface LevelProps {
  group: string;
  word: string;
  level: number;
  on: boolean;
  suggested: boolean;
  choose: () => void;
}

function Level({ group, word, level, on, suggested, choose }: LevelProps) {
  const look = on
    ? "border-done bg-done font-bold text-white"
    : suggested
      ? "border-2 border-dashed border-accent bg-base-100"
      : "border-base-300 bg-base-100";
  return (
    <label
      title={word}
      className={`flex h-9 w-9 cursor-pointer items-center justify-center rounded border text-sm focus-within:outline-3 focus-within:outline-accent ${look}`}
    >
      <input
        type="radio"
        className="sr-only"
        name={`mark-${group}`}
        checked={on}
        aria-label={`${group}: ${word}${suggested ? ", proposed" : ""}`}
        onChange={choose}
      />
      {level}
    </label>
  );
}
