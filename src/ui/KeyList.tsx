/** What every key does on a screen. */
export function KeyList({ keys }: { keys: readonly (readonly [key: string, meaning: string])[] }) {
  return (
    <dl className="panel grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 p-3 text-sm md:grid-cols-[auto_1fr_auto_1fr]">
      {keys.map(([key, meaning]) => (
        <div key={key} className="contents">
          <dt>
            <kbd className="key">{key}</kbd>
          </dt>
          <dd>{meaning}</dd>
        </div>
      ))}
    </dl>
  );
}
