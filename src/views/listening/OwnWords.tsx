import { useState } from "react";
import { call } from "../../client/api";
import { instrumentById } from "../../core/music";
import type { CauseKind } from "../../core/progress";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { ADVICE, advicePlace, CAUSE_NAMES, fillWords, REMEDIES, remedyPlace } from "../../ui/wording";

interface Props {
  own: Record<string, string>;
  /** Instruments of the band, by id. */
  instruments: readonly string[];
}

/** How a sentence reads in a take. */
const EXAMPLE = { where: "Bars 2 and 5", bar: "bar 2", note: "the B♭", name: "B♭", heard: "B" };

/** What the bench says to players about each kind of error, and what helps: in the band's own words where it likes. */
export function OwnWords({ own: first, instruments }: Props) {
  const [own, setOwn] = useState(first);
  const [instrument, setInstrument] = useState("");
  const keep = (place: string, text: string) =>
    setOwn((before) => {
      const { [place]: _, ...others } = before;
      return text === "" ? others : { ...others, [place]: text };
    });
  const kinds = Object.keys(ADVICE) as CauseKind[];
  return (
    <div className="flex flex-col gap-6">
      <section className="flex flex-col gap-2">
        <div className="flex flex-wrap items-end justify-between gap-3">
          <h2 className="text-xl">Ready sentences</h2>
          <label className="flex items-center gap-2 text-sm">
            For
            <select
              className="select select-sm w-auto border-neutral"
              value={instrument}
              onChange={(event) => setInstrument(event.target.value)}
            >
              <option value="">every instrument</option>
              {instruments.map((id) => (
                <option key={id} value={id}>
                  {instrumentById(id).name} only
                </option>
              ))}
            </select>
          </label>
        </div>
        <p className="text-sm text-quiet">
          What stands in braces fills itself: {"{where}"} “{EXAMPLE.where}”, {"{bar}"} “{EXAMPLE.bar}”,{" "}
          {"{note}"} “{EXAMPLE.note}”, {"{name}"} “{EXAMPLE.name}”, {"{heard}"} what sounded instead. Empty
          goes back to the bench's sentence.
        </p>
        <ul className="panel divide-y divide-base-300">
          {kinds.map((kind) => {
            const place = advicePlace(kind, instrument || null);
            return (
              <Sentence
                key={place}
                id={kind}
                label={CAUSE_NAMES[kind]}
                place={place}
                text={own[place] ?? ""}
                usual={(instrument && own[advicePlace(kind)]) || ADVICE[kind] || ""}
                example
                kept={keep}
              />
            );
          })}
        </ul>
      </section>
      <section className="flex flex-col gap-2">
        <h2 className="text-xl">What helps</h2>
        <p className="text-sm text-quiet">
          Common advice of teachers, offered beside a finding. Yours stands in its place.
        </p>
        <ul className="panel divide-y divide-base-300">
          {REMEDIES.map(({ id, symptom, families, tries }) => (
            <Sentence
              key={id}
              id={id}
              label={`${symptom}${families ? ` (${families.join(", ")})` : ""}`}
              place={remedyPlace(id)}
              text={own[remedyPlace(id)] ?? ""}
              usual={tries.join(" ")}
              example={false}
              kept={keep}
            />
          ))}
        </ul>
      </section>
    </div>
  );
}

interface SentenceProps {
  id: string;
  label: string;
  place: string;
  text: string;
  usual: string;
  /** It has braces that fill themselves. */
  example: boolean;
  kept: (place: string, text: string) => void;
}

/** One sentence: what is typed is kept when the field is left. */
function Sentence({ id, label, place, text, usual, example, kept }: SentenceProps) {
  const [typed, setTyped] = useState(text);
  const { run, problem } = useCall();
  const save = async () => {
    const now = typed.trim();
    if (now === text) return;
    const done = await run(
      () => call("PUT", "/api/words", { place, text: now }),
      "This sentence could not be kept. It stays here; try again in a moment.",
    );
    if (done) kept(place, now);
  };
  return (
    <li id={id} className="grid gap-x-4 gap-y-1 px-3 py-2 md:grid-cols-[14rem_1fr]">
      <span className="font-bold">{label}</span>
      <span className="flex flex-col gap-1">
        <input
          className="input input-sm w-full border-neutral"
          aria-label={label}
          maxLength={400}
          value={typed}
          placeholder={usual}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={save}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        />
        {example && (typed || usual) && (
          <span className="text-sm text-quiet">{fillWords(typed || usual, EXAMPLE)}</span>
        )}
        <Problem text={problem} />
      </span>
    </li>
  );
}
