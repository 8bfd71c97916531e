const MOST_BARS_NAMED = 12;

/** What a reader could not take over from a file, collected by kind and told with its bars. */
export class LeftOut {
  private readonly found = new Map<string, { said: string; bars: string[] }>();

  /** @param what  "the sign trill"; @param done  "was left out" */
  add(what: string, done: string, bar: string): void {
    const key = `${what}/${done}`;
    const { said, bars } = this.found.get(key) ?? { said: "", bars: [] };
    if (!bars.includes(bar)) bars.push(bar);
    this.found.set(key, { said, bars });
  }

  /** Something that belongs to no bar. */
  say(sentence: string): void {
    this.found.set(sentence, { said: sentence, bars: [] });
  }

  /** One sentence each, in the order in which they were found. */
  sentences(): string[] {
    return [...this.found].map(([key, { said, bars }]) => {
      if (said) return said;
      const [what, done] = key.split("/") as [string, string];
      return `${what} in ${barList(bars)} ${done}`;
    });
  }
}

function barList(bars: readonly string[]): string {
  if (bars.length === 1) return `bar ${bars[0]}`;
  const named = bars.slice(0, MOST_BARS_NAMED);
  const more = bars.length - named.length;
  return `bars ${named.join(", ")}${more > 0 ? ` and ${more} more` : ""}`;
}
