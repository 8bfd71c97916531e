import { useEffect, useRef, useState } from "react";
import { call } from "../../client/api";
import type { LineRecordingView } from "../../services/shelf/schema";

type Which = "A" | "B";

/** Two of the director's own recordings of a line, one right and one not, told apart by ear; drawn anew each time. */
export function OwnPair({ lineId }: { lineId: string }) {
  const [own, setOwn] = useState<LineRecordingView[]>([]);
  const [right, setRight] = useState("");
  const [wrong, setWrong] = useState("");
  const [rightIs, setRightIs] = useState<Which>("A");
  const [answer, setAnswer] = useState<Which | null>(null);
  const [playing, setPlaying] = useState<Which | null>(null);
  const audio = useRef<HTMLAudioElement>(null);
  useEffect(() => {
    call<{ recordings: LineRecordingView[] }>("GET", `/api/lines/${lineId}/recordings`).then(
      ({ recordings }) => {
        setOwn(recordings);
        setRight(recordings[0]?.id ?? "");
        setWrong(recordings[1]?.id ?? "");
      },
      () => setOwn([]),
    );
  }, [lineId]);
  const stop = () => {
    audio.current?.pause();
    setPlaying(null);
  };
  const mix = () => {
    stop();
    setAnswer(null);
    setRightIs(Math.random() < 0.5 ? "A" : "B");
  };
  if (own.length < 2)
    return (
      <p className="text-sm text-quiet">
        Attach two recordings of your own to this line, one right and one not, and they can be told apart
        here.
      </p>
    );
  const choose = (label: string, value: string, set: (id: string) => void) => (
    <label className="flex flex-col text-sm font-bold">
      {label}
      <select
        className="select select-sm w-auto border-neutral font-normal"
        value={value}
        onChange={(event) => {
          set(event.target.value);
          mix();
        }}
      >
        {own.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
  const hear = (which: Which) => {
    if (playing === which) return stop();
    const element = audio.current!;
    element.src = `/api/recordings/${which === rightIs ? right : wrong}/sound`;
    setPlaying(which);
    void element.play().catch(stop);
  };
  return (
    <div className="flex flex-col gap-2" data-testid="own-pair">
      <div className="flex flex-wrap gap-3">
        {choose("The right one", right, setRight)}
        {choose("The other", wrong, setWrong)}
      </div>
      {/* biome-ignore lint/a11y/useMediaCaption: the director's own playing */}
      <audio ref={audio} onEnded={stop} />
      {right === wrong ? (
        <p className="text-sm text-felt">Choose two different ones.</p>
      ) : (
        <div className="flex flex-wrap items-center gap-2">
          {(["A", "B"] as const).map((which) => (
            <button
              key={which}
              type="button"
              className="btn h-11 border-base-300 bg-base-100"
              onClick={() => hear(which)}
            >
              {playing === which ? `Stop ${which}` : `Hear ${which}`}
            </button>
          ))}
          {(["A", "B"] as const).map((which) => (
            <button
              key={which}
              type="button"
              className="btn h-11 border-base-300 bg-base-100"
              aria-pressed={answer === which}
              onClick={() => setAnswer(which)}
            >
              {which} is right
            </button>
          ))}
          <button type="button" className="btn btn-ghost h-11" onClick={mix}>
            Once more, mixed again
          </button>
        </div>
      )}
      {answer && (
        <output className={answer === rightIs ? "font-bold text-done" : "text-felt"}>
          {answer === rightIs ? "Yes, that is the right one." : "No: hear both again."}
        </output>
      )}
    </div>
  );
}
