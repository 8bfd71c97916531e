/** The beat to be seen: one light a beat of the bar, the one that sounds filled. Words say the same to a screen reader. */
export function BeatLights({ beats, current }: { beats: number; current: number | null }) {
  return (
    <div
      className="flex gap-2"
      role="img"
      aria-label={current === null ? "The beat is still" : `Beat ${current + 1}`}
      data-testid="beat"
    >
      {Array.from({ length: beats }, (_, beat) => (
        <span
          key={beat}
          className={`flex h-9 w-9 items-center justify-center rounded-full border-2 text-base font-bold ${
            beat === current ? "border-primary bg-primary text-primary-content" : "border-base-300 text-quiet"
          }`}
        >
          {beat + 1}
        </span>
      ))}
    </div>
  );
}
