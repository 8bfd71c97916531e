/** A field that takes taps by screen and by space bar while it is shown; it has the focus at once. */
export function TapField({ words, tap }: { words: string; tap: (eventTime: number) => void }) {
  return (
    <button
      type="button"
      className="h-20 w-full rounded border-2 border-dashed border-base-300 bg-base-200"
      onPointerDown={(event) => tap(event.timeStamp)}
      onKeyDown={(event) => {
        if (event.code !== "Space" || event.repeat) return;
        event.preventDefault();
        tap(event.timeStamp);
      }}
      ref={(field) => field?.focus()}
    >
      {words}
    </button>
  );
}
