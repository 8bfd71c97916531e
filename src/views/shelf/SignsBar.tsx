import {
  type BarSigns,
  barSignsAt,
  DYNAMICS,
  type Dynamic,
  type Entry,
  LONGEST_WORD,
  setBarSigns,
  setDynamic,
  setLyric,
} from "../../core/score";

interface Props {
  entry: Entry;
  change: (make: (entry: Entry) => Entry) => void;
}

/** Signs that no key writes: the dynamic and word of a note, the endings, jumps and words of a bar. */
export function SignsBar({ entry, change }: Props) {
  const token = entry.tokens[entry.cursor - 1];
  const bar = barSignsAt(entry);
  const onNote = token?.kind === "note";
  const set = (signs: BarSigns) => change((now) => setBarSigns(now, signs));
  const select = "select select-sm w-auto border-neutral text-sm";
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
      <label className="flex items-center gap-2">
        Dynamic
        <select
          className={select}
          disabled={!onNote}
          value={token?.dynamic ?? ""}
          onChange={(event) =>
            change((now) => setDynamic(now, (event.target.value || null) as Dynamic | null))
          }
        >
          <option value="">–</option>
          {DYNAMICS.map((each) => (
            <option key={each}>{each}</option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2">
        Word under the note
        <input
          key={token?.id ?? "none"}
          className="input input-sm w-24 border-neutral text-sm"
          disabled={!onNote}
          maxLength={LONGEST_WORD}
          defaultValue={token?.lyric ?? ""}
          placeholder="Har-"
          onBlur={(event) => {
            if (event.target.value.trim() !== (token?.lyric ?? ""))
              change((now) => setLyric(now, event.target.value));
          }}
        />
      </label>
      <span className="text-quiet">This bar:</span>
      <label className="flex items-center gap-2">
        Ending
        <select
          className={select}
          disabled={entry.cursor === 0}
          value={bar.ending ?? ""}
          onChange={(event) =>
            set({ ending: event.target.value === "" ? null : (Number(event.target.value) as 1 | 2) })
          }
        >
          <option value="">none</option>
          <option value="1">first, and back</option>
          <option value="2">second</option>
        </select>
      </label>
      <label className="flex items-center gap-1">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          disabled={entry.cursor === 0}
          checked={bar.daCapo}
          onChange={(event) => set({ daCapo: event.target.checked })}
        />
        D.C. al Fine
      </label>
      <label className="flex items-center gap-1">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          disabled={entry.cursor === 0}
          checked={bar.fine}
          onChange={(event) => set({ fine: event.target.checked })}
        />
        Fine
      </label>
      <label className="flex items-center gap-2">
        Words over it
        <input
          key={`${token?.id}/${bar.words}`}
          className="input input-sm w-24 border-neutral text-sm"
          disabled={entry.cursor === 0}
          maxLength={LONGEST_WORD}
          defaultValue={bar.words}
          placeholder="rit."
          onBlur={(event) => {
            if (event.target.value.trim() !== bar.words) set({ words: event.target.value });
          }}
        />
      </label>
    </div>
  );
}
