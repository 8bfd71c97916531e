import { type MarkedBy, type Marks, resultOf } from "../../core/progress";
import { Key } from "./Key";

interface Props {
  markedBy: MarkedBy;
  marks: Marks;
  proposed: Marks;
  /** Index of the criterion that the number keys mark. */
  chosen: number;
  choose: (criterion: number) => void;
  mark: (criterion: number, level: number) => void;
  /** What the bench heard for the chosen criterion, in a sentence; nothing before it was asked. */
  why?: string;
  /** Nothing to ask where the findings stand beside. */
  ask?: () => void;
}

/** The director's own marks beside what the bench would say; nothing is kept that was not chosen. */
export function YourEar({ markedBy, marks, proposed, chosen, choose, mark, why, ask }: Props) {
  const { rubric, lateDays } = markedBy;
  const { levels, criteria } = rubric;
  if (rubric.school === "pass")
    return (
      <p className="text-sm text-quiet">
        Passed or not yet. Listen for {criteria.map(({ word }) => word.toLowerCase()).join(", ")}.
      </p>
    );
  const whole = resultOf(markedBy, marks);
  const weighted = criteria.some(({ weight }) => weight !== 1);
  const shaded = criteria[chosen];
  const means = shaded?.means.map((text, place) => text && `${place + 1} ${text}`).filter(Boolean) ?? [];
  return (
    <>
      <div className="flex flex-col gap-1">
        {criteria.map((criterion, index) => (
          <div
            key={criterion.id}
            className={`flex items-center gap-1 rounded px-1 ${chosen === index ? "bg-reed/60" : ""}`}
            role="radiogroup"
            aria-label={criterion.word}
          >
            <button
              type="button"
              className="min-w-0 flex-1 break-words text-left text-sm leading-tight"
              onClick={() => choose(index)}
            >
              {criterion.word}
              {weighted && <span className="text-quiet"> × {criterion.weight}</span>}
            </button>
            {levels.map((word, place) => (
              <Level
                key={place}
                group={criterion.word}
                word={criterion.means[place] || word}
                level={place + 1}
                narrow={levels.length > 4}
                on={marks[criterion.id] === place + 1}
                suggested={proposed[criterion.id] === place + 1}
                choose={() => mark(index, place + 1)}
              />
            ))}
          </div>
        ))}
      </div>
      {shaded && (
        <p className="text-sm">
          {!ask ? null : why ? (
            <span data-testid="why">{why}</span>
          ) : (
            <button type="button" className="underline" onClick={ask}>
              Why {shaded.word.toLowerCase()}? <Key of="E" />
            </button>
          )}
          {means.length > 0 && <span className="block text-quiet">{means.join("; ")}</span>}
        </p>
      )}
      <p className="text-sm leading-tight text-quiet">
        {levels.map((word, place) => `${place + 1} ${word}`).join(", ")}. Dashed: the bench. Only what you
        choose counts.
      </p>
      {whole !== null && (
        <p className="text-sm font-bold" data-testid="together">
          Together {Math.round(whole.level * 10) / 10} of {whole.of}, {Math.round(whole.percent)} %
          {whole.less > 0 && ` (${whole.less} less: ${lateDays === 1 ? "1 day" : `${lateDays} days`} late)`}
        </p>
      )}
    </>
  );
}

interface LevelProps {
  group: string;
  word: string;
  level: number;
  narrow: boolean;
  on: boolean;
  suggested: boolean;
  choose: () => void;
}

function Level({ group, word, level, narrow, on, suggested, choose }: LevelProps) {
  const look = on
    ? "border-done bg-done font-bold text-white"
    : suggested
      ? "border-2 border-dashed border-accent bg-base-100"
      : "border-base-300 bg-base-100";
  return (
    <label
      title={word}
      className={`flex h-7 shrink-0 cursor-pointer items-center justify-center rounded border text-sm focus-within:outline-3 focus-within:outline-accent ${narrow ? "w-7" : "w-9"} ${look}`}
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
