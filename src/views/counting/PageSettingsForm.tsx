import { gridsOf, METRES, type PageSettings, slotsIn } from "../../core/rhythm";
import { Count, Pick } from "../../ui/Pick";

const metreName = ({ beats, beatType }: { beats: number; beatType: number }) => `${beats}/${beatType}`;
const GRID_NAMES: Record<number, string> = {
  1: "beats",
  2: "halves (eighths in 4/4)",
  3: "thirds (eighths in 6/8)",
  4: "quarters (sixteenths in 4/4)",
  6: "sixths (sixteenths in 6/8)",
};

interface Props {
  settings: PageSettings;
  change: (settings: PageSettings) => void;
}

/** What the bars of a page are like. */
export function PageSettingsForm({ settings, change }: Props) {
  const set = (changes: Partial<PageSettings>) => change({ ...settings, ...changes });
  const grids = [...new Set(settings.metres.flatMap((metre) => gridsOf(metre)))].sort((a, b) => a - b);
  const most = Math.max(
    1,
    ...settings.metres.map((metre) => slotsIn({ metre, slotsPerBeat: settings.slotsPerBeat })),
  );
  const toggle = (name: "rests" | "ties" | "dots" | "rings", label: string) => (
    <label className="flex items-center gap-2 text-sm">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={settings[name]}
        onChange={(event) => set({ [name]: event.target.checked })}
      />
      {label}
    </label>
  );
  return (
    <div className="flex flex-col gap-3">
      <fieldset className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <legend className="text-sm font-bold">Metre; more than one makes mixed bars</legend>
        {METRES.map((metre) => {
          const chosen = settings.metres.some((each) => metreName(each) === metreName(metre));
          return (
            <label key={metreName(metre)} className="flex items-center gap-1 text-sm">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={chosen}
                onChange={() =>
                  set({
                    metres: chosen
                      ? settings.metres.filter((each) => metreName(each) !== metreName(metre))
                      : [...settings.metres, metre],
                  })
                }
              />
              {metreName(metre)}
            </label>
          );
        })}
      </fieldset>
      <div className="flex flex-wrap items-end gap-3">
        <Pick
          label="Beat divided into"
          value={String(settings.slotsPerBeat)}
          options={Object.fromEntries(
            (grids.length > 0 ? grids : [1, 2, 4]).map((grid) => [String(grid), GRID_NAMES[grid]!]),
          )}
          choose={(grid) => set({ slotsPerBeat: Number(grid) })}
        />
        <Pick
          label="Attacks"
          value={settings.attacks ? "some" : "any"}
          options={{ any: "any number", some: "from – to" }}
          choose={(which) =>
            set({ attacks: which === "any" ? null : [Math.min(4, most), Math.min(7, most)] })
          }
        />
        {settings.attacks && (
          <>
            <Count
              label="from"
              value={settings.attacks[0]}
              least={1}
              most={most}
              change={(from) => set({ attacks: [from, Math.max(from, settings.attacks![1])] })}
            />
            <Count
              label="to"
              value={settings.attacks[1]}
              least={settings.attacks[0]}
              most={most}
              change={(to) => set({ attacks: [settings.attacks![0], to] })}
            />
          </>
        )}
      </div>
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {toggle("rests", "rests")}
        {toggle("ties", "ties")}
        {toggle("dots", "dotted notes")}
        {toggle("rings", "each pattern once, wherever it begins in the bar")}
      </div>
      <div className="flex flex-wrap items-end gap-3">
        <Pick
          label="Which bars"
          value={settings.choice}
          options={{ random: "some, by chance", complete: "every one there is" }}
          choose={(choice) => set({ choice })}
        />
        {settings.choice === "random" && (
          <>
            <Count label="Bars" value={settings.bars} least={1} most={48} change={(bars) => set({ bars })} />
            <button
              type="button"
              className="btn border-base-300 bg-base-100"
              onClick={() => set({ seed: settings.seed + 1 })}
            >
              Other bars
            </button>
          </>
        )}
        <Pick
          label="Grade (0 is the easiest)"
          value={settings.grades ? "some" : "any"}
          options={{ any: "any", some: "from – to" }}
          choose={(which) => set({ grades: which === "any" ? null : [1, 5] })}
        />
        {settings.grades && (
          <>
            <Count
              label="from"
              value={settings.grades[0]}
              least={0}
              most={30}
              change={(from) => set({ grades: [from, settings.grades![1]] })}
            />
            <Count
              label="to"
              value={settings.grades[1]}
              least={0}
              most={30}
              change={(to) => set({ grades: [settings.grades![0], to] })}
            />
          </>
        )}
      </div>
    </div>
  );
}
