import { useEffect, useMemo, useState } from "react";
import { call } from "../../client/api";
import { instrumentById, pitchName } from "../../core/music";
import { type Naming, type Way, wayPlan } from "../../core/playalong";
import { type Score, timeline, vocabularyOf } from "../../core/score";
import { BarPick } from "../../ui/BarPick";
import { Pick } from "../../ui/Pick";
import { usePlayAlong } from "../../ui/use-play-along";
import { Difference } from "./Difference";
import { OwnPair } from "./OwnPair";

const WAYS = {
  plain: "as written",
  "one-note": "on one note (concert F)",
  halves: "in halves, then whole",
  backwards: "backwards by bars",
  call: "call and response",
  ladder: "up a tempo ladder",
  change: "two-note change drill",
} satisfies Record<Way, string>;

/** A line on one note, or on none, has no change to drill. */
const { change: _change, ...WITHOUT_CHANGE } = WAYS;

const NAMES: Record<"" | Naming, string> = {
  "": "none",
  letters: "letter names",
  solfege: "solfège",
  numbers: "scale numbers",
  words: "the words",
  count: "the count",
};
interface Props {
  lineId: string;
  instrumentId: string;
  stage: string;
  partId: string | null;
  bpm: number;
  setCursor: (eventId: string | null) => void;
  /** How the band calls notes. */
  called: "letters" | "solfege" | "numbers";
}

/** The line or one instrument's part to be heard: tempo, bars, loop, and the ways to practise it. */
export function ListenPanel({ lineId, instrumentId, stage, partId, bpm: marked, setCursor, called }: Props) {
  const [score, setScore] = useState<Score | null>(null);
  const [problem, setProblem] = useState("");
  const [bpm, setBpm] = useState(marked);
  const [from, setFrom] = useState(0);
  const [to, setTo] = useState(0);
  const [loop, setLoop] = useState(false);
  const [way, setWay] = useState<Way>("plain");
  const [naming, setNaming] = useState<"" | Naming>("");
  // The band's own way of calling notes stands first.
  const { "": none, [called]: own, ...others } = NAMES;
  const names: Record<string, string> = { "": none, [called]: `${own}, as your band does`, ...others };
  const [subdivisions, setSubdivisions] = useState<1 | 2 | 3 | 4>(1);
  const [options, setOptions] = useState({
    countOff: true,
    click: true,
    startingNote: false,
    fermatas: true,
    reference: true,
  });
  const [sound, setSound] = useState<"own" | "concert">("own");
  const [startedBpm, setStartedBpm] = useState(marked);
  const [pair, setPair] = useState<[number, number]>([0, 1]);
  const { moment, note, start, stop, setMix, setSpeed } = usePlayAlong();

  useEffect(() => {
    let current = true;
    const query = new URLSearchParams({
      instrument: instrumentId,
      stage,
      ...(partId ? { part: partId } : {}),
    });
    call<{ score: Score }>("GET", `/api/lines/${lineId}/score?${query}`).then(
      (answer) => {
        if (!current) return;
        setScore(answer.score);
        setFrom(0);
        setTo(timeline(answer.score).measures.length);
      },
      (error: Error) => current && setProblem(error.message),
    );
    return () => {
      current = false;
      stop();
    };
  }, [lineId, instrumentId, stage, partId, stop]);
  useEffect(() => setCursor(moment?.eventId ?? null), [moment, setCursor]);

  const notes = useMemo(() => (score ? vocabularyOf(score).notes : []), [score]);
  const bars = useMemo(() => (score ? timeline(score).measures : []), [score]);
  if (problem) return <p className="text-felt">{problem}</p>;
  if (!score) return <p className="text-quiet">Getting the notes …</p>;

  const plan = () =>
    wayPlan(score, instrumentId, {
      way,
      bpm,
      from,
      to,
      pair,
      countOff: options.countOff,
      startingNote: options.startingNote,
      subdivisions,
      fermataHold: options.fermatas ? 1 : 0,
      ...(naming ? { naming } : {}),
    });
  const mixOf = ({ click, reference }: typeof options) => ({
    count: true,
    click,
    reference,
    sound: sound === "own" ? instrumentId : "concert",
  });
  const play = () => {
    const chosen = plan();
    setStartedBpm(bpm);
    void start(chosen, mixOf(options), loop ? { loopFromSec: chosen.startSec } : {});
  };
  /** Heard at once: the tempo that was chosen while it plays, against the one it was begun with. */
  const changeBpm = (value: number) => {
    setBpm(value);
    if (moment) setSpeed(Math.min(4, Math.max(0.25, value / startedBpm)));
  };
  const toggle = (name: keyof typeof options, label: string) => (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={options[name]}
        onChange={(event) => {
          const now = { ...options, [name]: event.target.checked };
          setOptions(now);
          setMix(mixOf(now));
        }}
      />
      {label}
    </label>
  );
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-wrap items-end gap-3">
        <Pick label="Way" value={way} options={notes.length < 2 ? WITHOUT_CHANGE : WAYS} choose={setWay} />
        <label className="flex flex-col text-sm font-bold">
          Tempo
          <span className="flex h-10 items-center gap-2 font-normal">
            <input
              type="range"
              className="range range-sm w-36"
              min={Math.min(40, marked)}
              max={Math.max(160, marked)}
              value={bpm}
              onChange={(event) => changeBpm(Number(event.target.value))}
              aria-valuetext={`${bpm} beats a minute`}
            />
            {bpm} bpm
          </span>
        </label>
        {way === "change" &&
          ([0, 1] as const).map((place) => (
            <Pick
              key={place}
              label={place === 0 ? "From note" : "to note"}
              value={String(pair[place])}
              options={Object.fromEntries(notes.map((note, index) => [String(index), pitchName(note)]))}
              choose={(value) => setPair(place === 0 ? [Number(value), pair[1]] : [pair[0], Number(value)])}
            />
          ))}
        {way !== "ladder" && way !== "change" && (
          <>
            <BarPick
              label="From bar"
              bars={bars}
              from={0}
              value={from}
              choose={(bar) => {
                setFrom(bar);
                setTo(Math.max(to, bar + 1));
              }}
            />
            <BarPick label="to bar" bars={bars} from={from} value={to - 1} choose={(bar) => setTo(bar + 1)} />
          </>
        )}
        <Pick label="Call names" value={naming} options={names} choose={setNaming} />
        <Pick
          label="Clicks a beat"
          value={String(subdivisions) as "1" | "2" | "3" | "4"}
          options={{ "1": "1", "2": "2", "3": "3", "4": "4" }}
          choose={(value) => setSubdivisions(Number(value) as 1 | 2 | 3 | 4)}
        />
        <Pick
          label="Sound"
          value={instrumentId === "concert" ? "concert" : sound}
          options={
            instrumentId === "concert"
              ? { concert: "plain tone" }
              : { own: instrumentById(instrumentId).name, concert: "plain tone" }
          }
          choose={setSound}
        />
      </div>
      <div className="flex flex-wrap gap-x-5 gap-y-2 text-sm">
        {toggle("countOff", "count off")}
        {toggle("click", "click")}
        {toggle("reference", "notes")}
        {toggle("startingNote", "starting note first")}
        {toggle("fermatas", "hold fermatas")}
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={loop}
            onChange={(event) => setLoop(event.target.checked)}
          />
          loop
        </label>
      </div>
      <div className="flex items-center gap-4">
        <button type="button" className="btn btn-primary w-28" onClick={moment ? stop : play}>
          {moment ? "Stop" : "Play"}
        </button>
        <output className="text-xl" data-testid="moment">
          {moment && (moment.count > 0 ? `${moment.count} …` : moment.text)}
          {moment?.phase && <span className="ml-3 text-base text-quiet">{moment.phase}</span>}
        </output>
      </div>
      {note && <output className="text-quiet">{note}</output>}
      <details>
        <summary className="cursor-pointer font-bold">Hear the difference: which one is right?</summary>
        <div className="mt-3">
          <Difference score={score} bpm={bpm} sound={sound === "own" ? instrumentId : "concert"} />
          <h4 className="mb-1 mt-4 font-bold">Two of your own recordings</h4>
          <OwnPair lineId={lineId} />
        </div>
      </details>
    </div>
  );
}
