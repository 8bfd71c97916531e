import { useEffect, useState } from "react";
import {
  asTheSectionPlays,
  type Fault,
  faultsFor,
  type PlayAlong,
  playAlong,
  type SectionFault,
  withFault,
} from "../../core/playalong";
import { type Score, timeline } from "../../core/score";
import { Pick } from "../../ui/Pick";
import { usePlayAlong } from "../../ui/use-play-along";
import { FAULT_NAMES } from "../../ui/wording";

interface Props {
  score: Score;
  bpm: number;
  /** What plays it: an instrument's id, or "concert". */
  sound: string;
  /** What the player's section often does: offered first, under its own name. */
  section?: { fault: SectionFault; name: string } | undefined;
  /** Told of the first answer to each pair. */
  answered?: ((right: boolean) => void) | undefined;
}

/** The fault of the section among the usual ones. */
const SECTION = "section";

/** The same line twice, once right and once with one fault: which is which? */
export function Difference({ score, bpm, sound, section, answered }: Props) {
  const line = timeline(score, { bpm });
  const faults = faultsFor(line);
  const [fault, setFault] = useState<Fault | typeof SECTION>(
    section ? SECTION : (faults[0] ?? "clipped-notes"),
  );
  const nameOf = (each: Fault | typeof SECTION) => (each === SECTION ? section!.name : FAULT_NAMES[each]);
  const wrong = (plan: PlayAlong) =>
    fault === SECTION ? asTheSectionPlays(plan, line, section!.fault) : withFault(plan, line, fault);
  const [rightIs, setRightIs] = useState<"A" | "B">("A");
  const [answer, setAnswer] = useState<"A" | "B" | null>(null);
  const { moment, note, start, stop } = usePlayAlong();
  const [playing, setPlaying] = useState<"A" | "B" | null>(null);
  const shuffle = () => {
    setRightIs(Math.random() < 0.5 ? "A" : "B");
    setAnswer(null);
  };
  // Which one is right is drawn in the browser: the server's page shows neither.
  useEffect(() => setRightIs(Math.random() < 0.5 ? "A" : "B"), []);
  const play = (which: "A" | "B") => {
    const plan = playAlong(line);
    setPlaying(which);
    void start(which === rightIs ? plan : wrong(plan), {
      count: true,
      click: true,
      reference: true,
      sound,
    });
  };
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-wrap items-end gap-3">
        <Pick
          label="In one of them"
          value={fault}
          options={
            Object.fromEntries(
              [...(section ? ([SECTION] as const) : []), ...faults].map((each) => [each, nameOf(each)]),
            ) as Partial<Record<Fault | typeof SECTION, string>>
          }
          choose={(chosen) => {
            stop();
            setFault(chosen);
            shuffle();
          }}
        />
        {(["A", "B"] as const).map((which) => (
          <button
            key={which}
            type="button"
            className="btn h-11 border-base-300 bg-base-100"
            onClick={() => (moment && playing === which ? stop() : play(which))}
          >
            {moment && playing === which ? `Stop ${which}` : `Hear ${which}`}
          </button>
        ))}
      </div>
      <fieldset className="flex flex-wrap items-center gap-2">
        <legend className="float-left mr-3">Which one is right?</legend>
        {(["A", "B"] as const).map((which) => (
          <button
            key={which}
            type="button"
            className="btn h-11 border-base-300 bg-base-100"
            aria-pressed={answer === which}
            onClick={() => {
              if (answer === null) answered?.(which === rightIs);
              setAnswer(which);
            }}
          >
            {which} is right
          </button>
        ))}
        <button type="button" className="btn btn-ghost h-11" onClick={shuffle}>
          Once more, mixed again
        </button>
      </fieldset>
      {answer && (
        <output className={answer === rightIs ? "font-bold text-done" : "text-felt"}>
          {answer === rightIs
            ? `Yes. In ${rightIs === "A" ? "B" : "A"} ${nameOf(fault)}.`
            : `No: in ${answer} ${nameOf(fault)}. Hear both again.`}
        </output>
      )}
      {note && <output className="text-sm text-quiet">{note}</output>}
    </div>
  );
}
