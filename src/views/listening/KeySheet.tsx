import { useState } from "react";
import { changeKey, keyOf, letKeysAct, useOwnKeys, usualKeys } from "./keys";

/** Acts by their usual letter, in the order of a take. */
const LETTERS: [string, string][] = [
  ["n", "next place, finding by finding"],
  ["p", "the place before"],
  ["l", "loop it"],
  ["s", "slower, and back"],
  ["b", "this take or the other beside it"],
  ["r", "a bar each, in turn"],
  ["j", "next take"],
  ["k", "the take before"],
  ["c", "shade the next criterion"],
  ["e", "what the bench heard for it, and from where"],
  ["w", "write to the player; Escape leaves the words"],
  ["f", "words for the family"],
  ["o", "the open finding is not so; a note you clicked was wrong"],
  ["h", "what helps against the open finding"],
  ["m", "mark the note; Enter keeps the words"],
  ["x", "put aside what the bench heard, and back"],
  ["a", "ask for another"],
  ["t", "ask for it at another tempo, or some bars of it"],
  ["u", "undo the last word, and those before it"],
];
const ACTS = LETTERS.map(([act]) => act);
const FIXED: [string, string][] = [
  ["Space", "play or pause"],
  ["Enter", "accept, next"],
  ["1 to 6", "mark the shaded criterion"],
  ["7 to 9", "put a ready sentence into the words"],
  ["?", "this sheet"],
];

/** The keys of the Listen desk: which letter does what, changed one by one, and whether they act at all. */
export function KeySheet() {
  const own = useOwnKeys();
  const [changing, setChanging] = useState(false);
  const cell = (key: React.ReactNode, meaning: string, id: string) => (
    <div key={id} className="contents">
      <dt>{key}</dt>
      <dd>{meaning}</dd>
    </div>
  );
  return (
    <div className="panel flex max-h-72 flex-col gap-2 overflow-y-auto p-3 text-sm">
      <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1 md:grid-cols-[auto_1fr_auto_1fr]">
        {FIXED.map(([key, meaning]) => cell(<kbd className="key">{key}</kbd>, meaning, key))}
        {LETTERS.map(([act, meaning]) =>
          cell(
            changing ? (
              <input
                className="input input-xs w-9 border-neutral px-1 text-center uppercase"
                aria-label={`Key for: ${meaning}`}
                value={keyOf(act, own)}
                onChange={({ target }) => changeKey(act, target.value.slice(-1).toLowerCase(), ACTS)}
                onFocus={(event) => event.target.select()}
              />
            ) : (
              <kbd className="key">{keyOf(act, own).toUpperCase()}</kbd>
            ),
            meaning,
            act,
          ),
        )}
      </dl>
      <div className="flex flex-wrap items-center gap-4">
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={!own.off}
            onChange={(event) => letKeysAct(event.target.checked)}
          />
          Single letters and figures act (Space, Enter, Escape and ? always do)
        </label>
        <button type="button" className="underline" onClick={() => setChanging(!changing)}>
          {changing ? "Done" : "Change the letters"}
        </button>
        {changing && (
          <button type="button" className="underline" onClick={usualKeys}>
            The usual ones
          </button>
        )}
      </div>
    </div>
  );
}
