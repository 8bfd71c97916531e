const KEYS: [string, string][] = [
  ["Space", "play or pause"],
  ["N / P", "next or previous spot"],
  ["L", "loop the spot"],
  ["S", "slower, and back"],
  ["J / K", "next or previous take"],
  ["1 to 4", "mark the shaded criterion"],
  ["C", "shade the next criterion"],
  ["A", "ask for another"],
  ["Enter", "accept, next"],
  ["U", "undo the last word, and those before it"],
  ["?", "this sheet"],
];

export function KeySheet() {
  return (
    <dl className="panel grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 p-3 text-sm sm:grid-cols-[auto_1fr_auto_1fr]">
      {KEYS.map(([name, meaning]) => (
        <div key={name} className="contents">
          <dt>
            <kbd className="key">{name}</kbd>
          </dt>
          <dd>{meaning}</dd>
        </div>
      ))}
    </dl>
  );
}
