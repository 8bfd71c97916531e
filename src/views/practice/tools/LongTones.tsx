import { useEffect, useRef, useState } from "react";
import { takeSeconds } from "../../../client/activity";
import { firstAnswer } from "../../../client/first-answer";
import { tell } from "../../../client/practice-log";
import { type LongTone, makeHoldFollower } from "../../../core/listen";
import { LONG_TONE_GOAL_SEC, longToneScore, steadinessOf } from "../../../core/practice";
import { DeviceDelay } from "../../counting/DeviceDelay";
import type { ToolProps } from "./props";
import { type Trace, Traces } from "./Traces";
import { useLive } from "./use-live";

/** A tone that stopped for so long is over, seconds. */
const OVER_SEC = 0.7;
/** Shorter than this was no tone. */
const LEAST_SEC = 1;

/** One note held: its pitch, level and brightness as they go, the seconds, and how steady each of the three was. */
export function LongTones({ view, instrument, playerId, own, tune }: ToolProps & { tune: () => void }) {
  const notes = instrument.chart.filter(({ known }) => known);
  const choices = notes.length > 0 ? notes : instrument.chart.slice(0, 5);
  const [midi, setMidi] = useState(choices[Math.floor(choices.length / 2)]?.midi ?? 60);
  const [seconds, setSeconds] = useState(0);
  const [found, setFound] = useState<LongTone | null>(null);
  const [restUntil, setRestUntil] = useState(0);
  const [said, setSaid] = useState("");
  const traces = useRef<Trace[]>([]);
  const follower = useRef(makeHoldFollower());
  const held = useRef({ longest: 0, lastSec: 0, over: false });
  const note = choices.find((each) => each.midi === midi) ?? choices[0];
  const best = Math.max(
    0,
    ...view.tones.map(({ heldSec }) => heldSec),
    ...own.flatMap((fact) => (fact.kind === "tone" ? [fact.heldSec] : [])),
  );

  const live = useLive(view.a4Hz, (frame, atSec) => {
    const now = follower.current(frame, atSec);
    const cents = frame.midi === null ? null : 100 * (frame.midi - (midi + instrument.soundsBySemitones));
    traces.current.push({
      atSec,
      cents,
      levelDb: frame.levelDb,
      brightHz: frame.brightHz,
      sounding: now !== null,
    });
    if (now) {
      held.current.longest = Math.max(held.current.longest, now.seconds);
      held.current.lastSec = atSec;
      const tenths = Math.floor(now.seconds * 10) / 10;
      setSeconds((before) => (before === tenths ? before : tenths));
    } else if (
      held.current.longest >= LEAST_SEC &&
      atSec - held.current.lastSec > OVER_SEC &&
      !held.current.over
    ) {
      held.current.over = true;
      void end();
    }
  });
  const start = () => {
    traces.current = [];
    follower.current = makeHoldFollower();
    held.current = { longest: 0, lastSec: 0, over: false };
    setSeconds(0);
    setFound(null);
    setSaid("");
    void live.start();
  };
  const end = async () => {
    const recording = live.recording();
    if (!recording || !note) return live.stop();
    const { pcm } = await recording.stop();
    live.stop();
    const heard = await firstAnswer(longToneScore(midi, instrument), pcm, {
      mode: "longtone",
      instrumentId: instrument.id,
      a4Hz: view.a4Hz,
    }).catch(() => null);
    const tone = heard?.longTone ?? null;
    if (!tone || tone.seconds < LEAST_SEC)
      return setSaid("No tone was held long enough. Breathe low, and begin again.");
    setFound(tone);
    // As long as was played, the lips rest.
    if (instrument.brass) setRestUntil(Date.now() + 1000 * tone.seconds);
    await tell(
      playerId,
      {
        kind: "tone",
        instrumentId: instrument.id,
        note: note.name,
        heldSec: Math.min(120, tone.seconds),
        pitchSdCents: Math.min(2000, tone.pitchSdCents),
        levelSdDb: Math.min(100, tone.levelSdDb),
        brightnessSpread: Math.min(100, tone.brightnessSpread),
        seconds: takeSeconds(),
      },
      view.today,
    );
  };
  const steady = found && steadinessOf(found);
  return (
    <section className="panel flex flex-col gap-3 p-4">
      <div className="flex flex-wrap items-end gap-3">
        <label className="flex flex-col text-sm font-bold">
          Note
          <select
            className="select h-11 w-auto border-neutral font-normal"
            value={midi}
            disabled={live.on}
            onChange={(event) => setMidi(Number(event.target.value))}
          >
            {choices.map((each) => (
              <option key={each.midi} value={each.midi}>
                {each.name}
              </option>
            ))}
          </select>
        </label>
        <p className="ml-auto text-right">
          <span className="font-heading text-5xl font-bold tabular-nums" data-testid="held">
            {(found?.seconds ?? seconds).toFixed(1)}
          </span>{" "}
          s of {LONG_TONE_GOAL_SEC}
          <span className="block text-sm text-quiet">
            {best > 0 ? `your longest: ${best.toFixed(1)} s` : " "}
          </span>
        </p>
      </div>
      <Traces traces={traces} running={live.on} inTuneCents={view.inTuneCents} />
      {steady && (
        <ul className="grid grid-cols-3 gap-2 text-center" data-testid="steadiness">
          {(
            [
              ["pitch", steady.pitch],
              ["loudness", steady.level],
              ["tone", steady.colour],
            ] as const
          ).map(([name, good]) => (
            <li key={name} className={`rounded border p-2 ${good ? "border-done" : "border-felt"}`}>
              {name}
              <b className={`block ${good ? "text-done" : "text-felt"}`}>{good ? "steady ✓" : "moved"}</b>
            </li>
          ))}
        </ul>
      )}
      {found && view.tuneWhen === "after-long-tones" && (
        <button type="button" className="btn h-12 border-base-300 bg-base-100" onClick={tune}>
          You are warm: tune now
        </button>
      )}
      {said && <p>{said}</p>}
      {live.problem && <p className="text-felt">{live.problem}</p>}
      <Rest until={restUntil} />
      <button type="button" className="btn btn-primary h-14" onClick={live.on ? () => void end() : start}>
        {live.on ? "That is enough" : "Hold a tone"}
      </button>
      <p className="text-sm text-quiet">
        The same loudness, tone and pitch from start to end. Breathe seated; stop when your head gets light.
        {instrument.brass && " Rest as long as you played; stop at any pain."}
        {live.lagMs !== null &&
          ` The picture follows the sound by ${live.lagMs} ms${live.measured ? ", the microphone of this device measured" : ", the microphone not counted"}.`}
      </p>
      <DeviceDelay way="clap" />
    </section>
  );
}

function Rest({ until }: { until: number }) {
  const [left, setLeft] = useState(0);
  useEffect(() => {
    const tick = () => setLeft(Math.max(0, Math.ceil((until - Date.now()) / 1000)));
    tick();
    const timer = setInterval(tick, 250);
    return () => clearInterval(timer);
  }, [until]);
  return left > 0 ? (
    <p className="font-bold text-brass" role="timer">
      Rest: {left} s
    </p>
  ) : null;
}
