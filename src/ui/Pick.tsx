/** A labelled choice of one from a few. */
export function Pick<T extends string>({
  label,
  value,
  options,
  choose,
  disabled = false,
}: {
  label: string;
  value: T;
  options: Partial<Record<T, string>>;
  choose: (value: T) => void;
  disabled?: boolean;
}) {
  return (
    <label className="flex flex-col text-sm font-bold">
      {label}
      <select
        className="select w-auto border-neutral font-normal"
        value={value}
        disabled={disabled}
        onChange={(event) => choose(event.target.value as T)}
      >
        {(Object.entries(options) as [T, string][]).map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

/** A labelled whole number. What is typed and is no number stays in the field and is said under it. */
export function Count({
  label,
  value,
  least,
  most,
  change,
}: {
  label: string;
  value: number;
  least: number;
  most: number;
  change: (value: number) => void;
}) {
  return (
    <label className="flex flex-col text-sm font-bold">
      {label}
      <input
        type="number"
        className="input w-20 border-neutral font-normal"
        min={least}
        max={most}
        value={Number.isFinite(value) ? value : ""}
        onChange={(event) => change(event.target.value === "" ? Number.NaN : Number(event.target.value))}
      />
    </label>
  );
}
