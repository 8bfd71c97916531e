export { type BookLine, bookScore, engraveShorthand } from "./shorthand";
export { BOOK_TITLE, LINES, SNARE_LINE } from "./steps";
