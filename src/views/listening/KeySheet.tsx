import { KeyList } from "../../ui/KeyList";
import { useSingleKeys } from "./use-keys";

const KEYS: [string, string][] = [
  ["Space", "play or pause"],
  ["N / P", "next or previous place, finding by finding"],
  ["L", "loop it"],
  ["S", "slower, and back"],
  ["B / R", "this take or the other beside it; a bar each in turn"],
  ["J / K", "next or previous take"],
  ["1 to 6", "mark the shaded criterion"],
  ["C", "shade the next criterion"],
  ["E", "what the bench heard for it, and from where"],
  ["W", "write to the player; Escape leaves the words"],
  ["7 to 9", "put a ready sentence into them"],
  ["O", "the open finding is not so; a note you clicked was wrong"],
  ["H", "what helps against the open finding"],
  ["M", "mark the note; Enter keeps the words"],
  ["X", "put aside what the bench heard, and back"],
  ["A", "ask for another"],
  ["T", "ask for it at another tempo, or some bars of it"],
  ["Enter", "accept, next"],
  ["U", "undo the last word, and those before it"],
  ["?", "this sheet"],
];

/** The keys of the Listen desk, and whether single letters act at all. */
export function KeySheet() {
  const [on, set] = useSingleKeys();
  return (
    <div className="flex flex-col gap-1">
      <KeyList keys={KEYS} />
      <label className="flex items-center gap-2 text-sm">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={on}
          onChange={(event) => set(event.target.checked)}
        />
        Single letters and figures act (Space, Enter, Escape and ? always do)
      </label>
    </div>
  );
}
