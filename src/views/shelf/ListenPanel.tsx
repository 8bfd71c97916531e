import { useEffect, useMemo, useState } from "react";
import { call } from "../../client/api";
import { instrumentById, parsePitch, pitchName, transposePitch, writtenInterval } from "../../core/music";
import {
  backwards,
  callAndResponse,
  changeDrill,
  inHalves,
  type Naming,
  onOneNote,
  type PlayAlong,
  type PlayAlongOptions,
  passage,
  playAlong,
  tempoLadder,
} from "../../core/playalong";
import { type Score, timeline, vocabularyOf } from "../../core/score";
import { Pick } from "../../ui/Pick";
import { usePlayAlong } from "../../ui/use-play-along";
import { Difference } from "./Difference";

const WAYS = {
  plain: "as written",
  "one-note": "on one note (concert F)",
  halves: "in halves, then whole",
  backwards: "backwards by bars",
  call: "call and response",
  ladder: "up a tempo ladder",
  change: "two-note change drill",
} as const;
type Way = keyof typeof WAYS;

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
/** A ladder climbs to the tempo chosen in these shares of it. */
const LADDER = [0.65, 0.8, 1];
const CALL_BARS = 2;

interface Props {
  lineId: string;
  instrumentId: string;
  stage: string;
  partId: string | null;
  bpm: number;
  setCursor: (eventId: string | null) => void;
}

/** The line or one instrument's part to be heard: tempo, bars, loop, and the ways to practise it. */
export function ListenPanel({ lineId, instrumentId, stage, partId, bpm: marked, setCursor }: Props) {
  const [score, setScore] = useState<Score | null>(null);
  const [problem, setProblem] = useState("");
  const [bpm, setBpm] = useState(marked);
  const [from, setFrom] = useState(0);
  const [to, setTo] = useState(0);
  const [loop, setLoop] = useState(false);
  const [way, setWay] = useState<Way>("plain");
  const [naming, setNaming] = useState<"" | Naming>("");
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

  const plan = (): PlayAlong => {
    const asked: PlayAlongOptions = {
      countOff: options.countOff,
      startingNote: options.startingNote,
      subdivisions,
      fermataHold: options.fermatas ? 1 : 0,
      ...(naming ? { naming } : {}),
    };
    const played = way === "one-note" ? onOneNote(score, comfortableNote(score, instrumentId)) : score;
    const line = passage(timeline(played, { bpm }), from, to);
    switch (way) {
      case "halves":
        return inHalves(line, asked);
      case "backwards":
        return backwards(line, asked);
      case "call":
        return callAndResponse(line, CALL_BARS, asked);
      case "change": {
        const [a, b] = pair.map((index) => transposePitch(notes[index]!, score.parts[0].soundsBy));
        return changeDrill(a!, b!);
      }
      case "ladder":
        return tempoLadder(
          score,
          LADDER.map((share) => Math.max(20, Math.round(bpm * share))),
          asked,
        );
      default:
        return playAlong(line, asked);
    }
  };
  const mixOf = ({ click, reference }: typeof options) => ({
    count: true,
    click,
    reference,
    sound: sound === "own" ? instrumentId : "concert",
  });
  const play = () => {
    const chosen = plan();
    setStartedBpm(bpm);
    start(chosen, mixOf(options), loop ? { loopFromSec: chosen.startSec } : {}).catch(() =>
      setProblem("This browser cannot play sound right now. Reload the page and try again."),
    );
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
  const barName = (index: number) => (bars[index]!.number === "0" ? "pickup" : bars[index]!.number);

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
            <label className="flex flex-col text-sm font-bold">
              From bar
              <select
                className="select w-auto border-neutral font-normal"
                value={from}
                onChange={(event) => {
                  setFrom(Number(event.target.value));
                  setTo(Math.max(to, Number(event.target.value) + 1));
                }}
              >
                {bars.map((bar, index) => (
                  <option key={`${bar.measureId}-${bar.pass}`} value={index}>
                    {barName(index)}
                    {bar.pass > 1 ? ` (time ${bar.pass})` : ""}
                  </option>
                ))}
              </select>
            </label>
            <label className="flex flex-col text-sm font-bold">
              to bar
              <select
                className="select w-auto border-neutral font-normal"
                value={to}
                onChange={(event) => setTo(Number(event.target.value))}
              >
                {bars.map(
                  (bar, index) =>
                    index >= from && (
                      <option key={`${bar.measureId}-${bar.pass}`} value={index + 1}>
                        {barName(index)}
                        {bar.pass > 1 ? ` (time ${bar.pass})` : ""}
                      </option>
                    ),
                )}
              </select>
            </label>
          </>
        )}
        <Pick label="Call names" value={naming} options={NAMES} choose={setNaming} />
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
        </div>
      </details>
    </div>
  );
}

/** Concert F as the part writes it, in the octave nearest the line. */
function comfortableNote(score: Score, instrumentId: string) {
  const concert = parsePitch("F4");
  const written =
    instrumentId === "concert"
      ? concert
      : transposePitch(concert, writtenInterval(instrumentById(instrumentId)));
  const steps = score.parts[0].measures.flatMap((measure) =>
    measure.events.flatMap((event) => (event.pitch ? [event.pitch.octave] : [])),
  );
  const octave =
    steps.length > 0 ? Math.round(steps.reduce((sum, each) => sum + each, 0) / steps.length) : written.octave;
  return { ...written, octave };
}
