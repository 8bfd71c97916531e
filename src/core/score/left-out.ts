const MOST_BARS_NAMED = 12;

/** What a reader could not take over from a file, collected by kind and told with its bars. */
export class LeftOut {
  private readonly found = new Map<string, { what: string; done: string; bars: Set<string> }>();

  /** @param what  "the sign trill"; @param done  "was left out" */
  add(what: string, done: string, bar: string): void {
    const key = `${what} … ${done}`;
    const known = this.found.get(key) ?? { what, done, bars: new Set<string>() };
    known.bars.add(bar);
    this.found.set(key, known);
  }

  /** Something that belongs to no bar. */
  say(sentence: string): void {
    this.found.set(sentence, { what: sentence, done: "", bars: new Set() });
  }

  /** One sentence each, in the order in which they were found. */
  sentences(): string[] {
    return [...this.found.values()].map(({ what, done, bars }) =>
      bars.size === 0 ? what : `${what} in ${barList([...bars])} ${done}`,
    );
  }
}

function barList(bars: readonly string[]): string {
  if (bars.length === 1) return `bar ${bars[0]}`;
  const named = bars.slice(0, MOST_BARS_NAMED);
  const more = bars.length - named.length;
  return `bars ${named.join(", ")}${more > 0 ? ` and ${more} more` : ""}`;
}
