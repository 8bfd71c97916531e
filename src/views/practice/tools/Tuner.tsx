import { useEffect, useRef, useState } from "react";
import { takeSeconds } from "../../../client/activity";
import { tell } from "../../../client/practice-log";
import { audioContext } from "../../../client/sound";
import { midiToHz, midiToPitch, pitchName } from "../../../core/music";
import type { ToolProps } from "./props";
import { useLive } from "./use-live";

/** This near is good to any ear, cents (common practice, no published source); what counts is the band's setting. */
const GOOD_CENTS = 8;
/** The needle follows the middle of so many frames: a tone, not its every tremor. */
const SMOOTH = 7;

/** Written name large, concert name beside it, and how far the tone lies from its pitch. */
export function Tuner({ view, instrument, playerId }: ToolProps) {
  const [now, setNow] = useState<{ written: string; concert: string; cents: number } | null>(null);
  const [drone, setDrone] = useState(false);
  const last = useRef<number[]>([]);
  const stopDrone = useRef<(() => void) | null>(null);
  const live = useLive(view.a4Hz, ({ midi }) => {
    if (midi === null) {
      last.current = [];
      return setNow(null);
    }
    last.current = [...last.current, midi].slice(-SMOOTH);
    const middle = [...last.current].sort((a, b) => a - b)[Math.floor(last.current.length / 2)]!;
    const nearest = Math.round(middle);
    const cents = Math.round(100 * (middle - nearest));
    const written = pitchName(midiToPitch(nearest - instrument.soundsBySemitones));
    const concert = pitchName(midiToPitch(nearest), false);
    setNow((before) =>
      before?.cents === cents && before.written === written ? before : { written, concert, cents },
    );
  });
  useEffect(() => () => stopDrone.current?.(), []);
  const toggleDrone = async () => {
    if (stopDrone.current) {
      stopDrone.current();
      stopDrone.current = null;
      return setDrone(false);
    }
    const context = await audioContext();
    const tone = context.createOscillator();
    const gain = context.createGain();
    const concert = instrument.chart.find(({ concert }) => concert === "B♭") ?? instrument.chart[0];
    tone.type = "triangle";
    tone.frequency.value = midiToHz((concert?.midi ?? 60) + instrument.soundsBySemitones, view.a4Hz);
    gain.gain.value = 0.12;
    tone.connect(gain).connect(context.destination);
    tone.start();
    stopDrone.current = () => {
      tone.stop();
      tone.disconnect();
      gain.disconnect();
    };
    setDrone(true);
  };
  const end = () => {
    live.stop();
    void tell(playerId, { kind: "tool", tool: "tuner", seconds: takeSeconds() }, view.today);
  };
  const cents = now?.cents ?? 0;
  const verdict = !now
    ? live.on
      ? "Play a long tone."
      : "Your note is shown as you read it, and as the band calls it."
    : Math.abs(cents) <= GOOD_CENTS
      ? "Good."
      : Math.abs(cents) <= view.inTuneCents
        ? `In tune for your band (within ${view.inTuneCents} cents).`
        : cents > 0
          ? "Too high: make the instrument longer, or relax."
          : "Too low: make the instrument shorter, or more air.";
  return (
    <section className="panel flex flex-col items-center gap-3 p-4">
      <p className="font-heading text-6xl font-bold tabular-nums" data-testid="written">
        {now?.written ?? "–"}
      </p>
      <p className="text-quiet">{now ? `concert ${now.concert}` : " "}</p>
      <div
        className="relative h-10 w-full max-w-md rounded border border-base-300 bg-base-200"
        aria-hidden="true"
      >
        <span
          className="absolute inset-y-0 bg-reed"
          style={{ left: `${50 - view.inTuneCents}%`, width: `${2 * view.inTuneCents}%` }}
        />
        <span className="absolute inset-y-0 left-1/2 w-0.5 -translate-x-1/2 bg-base-content" />
        {now && (
          <span
            className="absolute top-1 h-8 w-2 -translate-x-1/2 rounded bg-done"
            style={{ left: `${50 + Math.max(-50, Math.min(50, cents))}%` }}
          />
        )}
      </div>
      <p className="text-xl tabular-nums" data-testid="cents">
        {now ? `${cents > 0 ? "+" : ""}${cents} cents` : " "}
      </p>
      <output className="min-h-6 text-center">{verdict}</output>
      {live.problem && <p className="text-felt">{live.problem}</p>}
      <div className="flex flex-wrap justify-center gap-2">
        <button type="button" className="btn btn-primary h-12" onClick={live.on ? end : live.start}>
          {live.on ? "Stop" : "Listen to me"}
        </button>
        <button
          type="button"
          className="btn h-12 border-base-300 bg-base-100"
          aria-pressed={drone}
          onClick={toggleDrone}
        >
          {drone ? "Stop the B♭" : "Sound a concert B♭"}
        </button>
      </div>
      <p className="text-sm text-quiet">
        A is {view.a4Hz} Hz in your band.
        {live.lagMs !== null && ` The picture follows the sound by ${live.lagMs} ms.`}
      </p>
    </section>
  );
}
