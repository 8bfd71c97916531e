import { KeyList } from "../../ui/KeyList";

const KEYS: [string, string][] = [
  ["Space", "play or pause"],
  ["N / P", "next or previous place, finding by finding"],
  ["L", "loop it"],
  ["S", "slower, and back"],
  ["J / K", "next or previous take"],
  ["1 to 4", "mark the shaded criterion"],
  ["C", "shade the next criterion"],
  ["W", "write to the player; Escape leaves the words"],
  ["7 to 9", "put a ready sentence into them"],
  ["A", "ask for another"],
  ["Enter", "accept, next"],
  ["U", "undo the last word, and those before it"],
  ["?", "this sheet"],
];

/** The keys of the Listen desk. */
export function KeySheet() {
  return <KeyList keys={KEYS} />;
}
