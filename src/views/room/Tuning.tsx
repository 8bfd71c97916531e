import type { Wall } from "./use-wall";

/** The note each instrument tunes to, as it is read and as the tuner shows it. */
export function Tuning({ wall }: { wall: Wall }) {
  const tuned = wall.sheet.instruments.filter(({ tuning }) => tuning !== null);
  return (
    <div className="flex h-full flex-col gap-[1vh]" data-testid="tuning">
      <p>
        {wall.state.drone
          ? "The note sounds. Listen first, then play softly into it."
          : "Press D for the note."}
      </p>
      <ul className="grid min-h-0 flex-1 auto-rows-fr grid-cols-2 gap-x-[3vw]">
        {tuned.map(({ id, label, tuning }) => (
          <li key={id} className="flex items-baseline gap-[1vw] border-t-2 border-base-300">
            <span className="min-w-0 flex-1 truncate">{label}</span>
            <b className="wall-large">reads {tuning!.written}</b>
            <span>tuner shows {tuning!.concert}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}
