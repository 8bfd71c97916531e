import { useEffect, useRef, useState } from "react";
import type { LineRecordingView } from "../../services/shelf/schema";

const SPEEDS = [0.5, 0.65, 0.8, 0.9, 1, 1.1];

interface Props {
  recording: LineRecordingView;
  /** Only a director marks bars and takes recordings off. */
  saveBars?: (bars: number[]) => void;
  remove?: () => void;
}

/** A recording that belongs to a line: any speed without changing pitch, from any bar that was tapped. */
export function RecordingPlayer({ recording, saveBars, remove }: Props) {
  const audio = useRef<HTMLAudioElement>(null);
  const [speed, setSpeed] = useState(1);
  const [tapping, setTapping] = useState<number[] | null>(null);
  const [bar, setBar] = useState(0);

  useEffect(() => {
    if (audio.current) audio.current.playbackRate = speed;
  }, [speed]);
  const bars = tapping ?? recording.bars;
  const follow = () => setBar(bars.filter((sec) => sec <= (audio.current?.currentTime ?? 0) + 0.02).length);
  const goTo = (sec: number) => {
    if (!audio.current) return;
    audio.current.currentTime = sec;
    void audio.current.play();
  };
  const tap = () => {
    const now = audio.current?.currentTime ?? 0;
    setTapping((before) =>
      before && (before.at(-1) ?? -1) < now - 0.05 ? [...before, Math.round(now * 1000) / 1000] : before,
    );
  };
  const begin = () => {
    setTapping([]);
    goTo(0);
  };

  return (
    <section className="flex flex-col gap-2">
      <h3 className="text-base">{recording.name}</h3>
      {/* biome-ignore lint/a11y/useMediaCaption: a line of music has no words */}
      <audio
        ref={audio}
        controls
        preload="none"
        className="w-full"
        src={`/api/recordings/${recording.id}/sound`}
        onTimeUpdate={follow}
        onPlay={() => {
          if (audio.current) audio.current.playbackRate = speed;
        }}
      />
      <div className="flex flex-wrap items-center gap-2 text-sm">
        <label className="flex items-center gap-2">
          <span className="font-bold">Speed</span>
          <select
            className="select select-sm w-auto text-sm border-neutral"
            value={speed}
            onChange={(event) => setSpeed(Number(event.target.value))}
          >
            {SPEEDS.map((each) => (
              <option key={each} value={each}>
                {Math.round(each * 100)} %
              </option>
            ))}
          </select>
        </label>
        {saveBars && !tapping && (
          <button type="button" className="btn btn-sm border-base-300 bg-base-100" onClick={begin}>
            {recording.bars.length > 0 ? "Tap the bars again" : "Tap the bars"}
          </button>
        )}
        {tapping && (
          <>
            <button type="button" className="btn btn-primary btn-sm" onClick={tap}>
              Bar {tapping.length + 1} begins now
            </button>
            <button
              type="button"
              className="btn btn-sm border-base-300 bg-base-100"
              disabled={tapping.length === 0}
              onClick={() => {
                saveBars?.(tapping);
                setTapping(null);
                audio.current?.pause();
              }}
            >
              Keep {tapping.length} bars
            </button>
            <button type="button" className="link" onClick={() => setTapping(null)}>
              leave it
            </button>
          </>
        )}
        {remove && !tapping && (
          <button type="button" className="link" onClick={remove}>
            take it off the line
          </button>
        )}
      </div>
      {recording.bars.length > 0 && !tapping && (
        <ol className="flex flex-wrap gap-1" aria-label={`Bars of ${recording.name}`}>
          {recording.bars.map((sec, index) => (
            <li key={sec}>
              <button
                type="button"
                className={`btn btn-sm h-11 min-w-11 sm:h-8 sm:min-w-9 ${bar === index + 1 ? "btn-primary" : "border-base-300 bg-base-100"}`}
                aria-label={`Play from bar ${index + 1}`}
                onClick={() => goTo(sec)}
              >
                {index + 1}
              </button>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}
