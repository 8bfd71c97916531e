/** The looks of a control on the settings page. */
export const input = "input input-sm border-neutral font-normal";

export function Section({ title, id, children }: { title: string; id?: string; children: React.ReactNode }) {
  return (
    <section id={id} className="panel px-4 py-3">
      <h2 className="text-xl">{title}</h2>
      <div className="divide-y divide-base-300">{children}</div>
    </section>
  );
}

interface SettingProps {
  label: string;
  says: string;
  problem?: string | undefined;
  children: React.ReactNode;
}

export function Setting({ label, says, problem, children }: SettingProps) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is among the children
    <label className="flex flex-wrap items-center justify-between gap-x-6 gap-y-1 py-2">
      <span>
        <b>{label}</b>
        <span className="block text-sm text-quiet">{says}</span>
        {problem && <span className="block text-sm font-bold text-felt">{problem}</span>}
      </span>
      {children}
    </label>
  );
}

type NumberProps = Omit<SettingProps, "children"> & {
  min: number;
  max: number;
  step?: number;
  value: number;
  set: (value: number) => void;
};

/** A setting that is one number. */
export function NumberSetting({ label, says, problem, set, ...number }: NumberProps) {
  return (
    <Setting label={label} says={says} problem={problem}>
      <input
        type="number"
        className={`${input} w-24`}
        {...number}
        onChange={(event) => set(Number(event.target.value))}
      />
    </Setting>
  );
}

export function Tick({
  on,
  set,
  label,
  says,
}: {
  on: boolean;
  set: (on: boolean) => void;
  label: string;
  says: string;
}) {
  return (
    <Setting label={label} says={says}>
      <input
        type="checkbox"
        className="checkbox"
        checked={on}
        onChange={(event) => set(event.target.checked)}
      />
    </Setting>
  );
}

export function Choice<T extends string>({
  value,
  options,
  choose,
  label,
}: {
  /** What it chooses, where no words stand beside it. */
  label?: string;
  value: T;
  options: Record<T, string>;
  choose: (value: T) => void;
}) {
  return (
    <select
      aria-label={label}
      className="select select-sm w-auto border-neutral font-normal"
      value={value}
      onChange={(event) => choose(event.target.value as T)}
    >
      {(Object.entries(options) as [T, string][]).map(([id, name]) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  );
}
