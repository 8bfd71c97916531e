/** A line of the answer while a set is printed: how many sheets are ready, then the file or why there is none. */
export type PaperStep = { sheets: number } | { pdf: string } | { problem: string };
