import { useRef, useState } from "react";
import { takeSeconds } from "../../../client/activity";
import { tell } from "../../../client/practice-log";
import { metronomePlan, tappedTempo } from "../../../core/playalong";
import { BeatLights } from "../../../ui/BeatLights";
import { Pick } from "../../../ui/Pick";
import { usePlayAlong } from "../../../ui/use-play-along";

type Parts = "1" | "2" | "3" | "4";
type Silent = "0" | "1" | "2";
const PARTS: Record<Parts, string> = { 1: "beats only", 2: "halves", 3: "thirds", 4: "quarters" };
const SILENT: Record<Silent, string> = {
  0: "never silent",
  1: "one bar clicks, one is silent",
  2: "two bars click, two are silent",
};

/** A beat to keep: tapped or chosen, divided, accented, and silent now and then. */
export function Metronome({ playerId }: { playerId: string }) {
  const [bpm, setBpm] = useState(80);
  const [beats, setBeats] = useState(4);
  const [parts, setParts] = useState<Parts>("1");
  const [accents, setAccents] = useState(true);
  const [silent, setSilent] = useState<Silent>("0");
  const taps = useRef<number[]>([]);
  const play = usePlayAlong();
  const running = play.moment !== null;
  const start = (
    change: Partial<{
      bpm: number;
      beats: number;
      parts: Parts;
      accents: boolean;
      silent: Silent;
    }> = {},
  ) => {
    const now = { bpm, beats, parts, accents, silent, ...change };
    void play.start(
      metronomePlan({
        bpm: now.bpm,
        beats: now.beats,
        subdivisions: Number(now.parts) as 1 | 2 | 3 | 4,
        accents: now.accents,
        silentBars: Number(now.silent),
        soundingBars: Math.max(1, Number(now.silent)),
      }),
      { count: true, click: true, reference: false },
      { loopFromSec: 0 },
    );
  };
  /** A change is heard at once. */
  const change = (what: Parameters<typeof start>[0]) => running && start(what);
  const tap = () => {
    taps.current = [...taps.current, performance.now() / 1000].slice(-8);
    const found = tappedTempo(taps.current);
    if (found === null) return;
    setBpm(found);
    change({ bpm: found });
  };
  const stop = () => {
    play.stop();
    void tell(playerId, { kind: "tool", tool: "metronome", seconds: takeSeconds() });
  };
  return (
    <section className="panel flex flex-col items-center gap-4 p-4">
      <p className="font-heading text-6xl font-bold tabular-nums">{bpm}</p>
      <input
        type="range"
        className="range w-full max-w-md"
        min={30}
        max={220}
        value={bpm}
        aria-label="Beats a minute"
        onChange={(event) => {
          setBpm(Number(event.target.value));
          change({ bpm: Number(event.target.value) });
        }}
      />
      <BeatLights
        beats={beats}
        current={running ? Math.floor((play.planSec * bpm) / 60 + 1e-6) % beats : null}
      />
      <div className="flex flex-wrap justify-center gap-2">
        <button type="button" className="btn btn-primary h-14 w-36" onClick={running ? stop : () => start()}>
          {running ? "Stop" : "Start"}
        </button>
        <button
          type="button"
          className="btn h-14 w-36 border-base-300 bg-base-100"
          onPointerDown={tap}
          onKeyDown={(event) => !event.repeat && event.key === "Enter" && tap()}
        >
          Tap the beat
        </button>
      </div>
      <div className="flex flex-wrap items-end justify-center gap-3">
        <label className="flex flex-col text-sm font-bold">
          Beats in a bar
          <input
            type="number"
            className="input h-11 w-24 border-neutral font-normal"
            min={1}
            max={12}
            value={beats}
            onChange={(event) => {
              const now = Math.max(1, Math.min(12, Math.round(Number(event.target.value)) || 1));
              setBeats(now);
              change({ beats: now });
            }}
          />
        </label>
        <Pick
          label="Each beat in"
          value={parts}
          options={PARTS}
          choose={(now) => {
            setParts(now);
            change({ parts: now });
          }}
        />
        <Pick
          label="Silent bars"
          value={silent}
          options={SILENT}
          choose={(now) => {
            setSilent(now);
            change({ silent: now });
          }}
        />
        <label className="flex h-11 items-center gap-2">
          <input
            type="checkbox"
            className="checkbox"
            checked={accents}
            onChange={(event) => {
              setAccents(event.target.checked);
              change({ accents: event.target.checked });
            }}
          />
          first beat stronger
        </label>
      </div>
      {play.note && <p className="text-felt">{play.note}</p>}
    </section>
  );
}
