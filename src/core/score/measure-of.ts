import type { Score } from "./model";

/** In which measure of the first part each event stands, by index from 0, whatever is repeated. */
export function measureOfEvents({ parts: [part] }: Score): Map<string, number> {
  return new Map(part.measures.flatMap(({ events }, index) => events.map(({ id }) => [id, index] as const)));
}
