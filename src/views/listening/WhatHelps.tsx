import { instrumentById } from "../../core/music";
import type { TakeDetail } from "../../services/listening/wire";
import { type Finding, remediesFor, remedyPlace } from "../../ui/wording";

interface Props {
  take: TakeDetail;
  finding: Finding;
  /** Puts words into the comment. */
  say: (text: string) => void;
}

/** What teachers commonly do against a finding on this instrument: likely causes, what to try, what a helper finds out. */
export function WhatHelps({ take, finding, say }: Props) {
  const remedies = remediesFor(finding.cause.kind, instrumentById(take.instrumentId).family);
  if (remedies.length === 0) return null;
  return (
    <div
      className="flex w-full flex-col gap-2 border-l-4 border-l-accent pl-3 text-sm"
      data-testid="what-helps"
    >
      {remedies.map(({ id, symptom, causes, tries, helper, caution }) => {
        const own = take.ownWords[remedyPlace(id)];
        return (
          <div key={id} className="flex flex-col gap-1">
            <p>
              <b>{symptom}.</b> Often {causes.join("; or ")}.
            </p>
            <ul className="flex flex-col gap-1">
              {(own ? [own] : tries).map((text) => (
                <li key={text} className="flex items-start justify-between gap-2">
                  {text}
                  <button
                    type="button"
                    className="btn btn-xs border-base-300 bg-base-100"
                    onClick={() => say(text)}
                  >
                    Say it
                  </button>
                </li>
              ))}
            </ul>
            {helper && <p>With a helper: {helper}</p>}
            {caution && (
              <p className="font-bold text-felt">
                {caution} Your school's rules and a professional come first.
              </p>
            )}
          </div>
        );
      })}
      <a className="link" href={`/listen/words#${finding.cause.kind}`}>
        Put it in your own words
      </a>
    </div>
  );
}
