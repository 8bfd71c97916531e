import type { TermDraft } from "../core/plan";
import type { SavedPlan, TermToDraft } from "../services/week/schema";
import { call } from "./api";

export type TermAnswer =
  | { kind: "progress"; share: number }
  | { kind: "done"; drafts: TermDraft[] }
  | { kind: "failed"; problem: string };

export interface Drafting {
  /** Ends when it is drafted. @throws Error with a sentence when it cannot be */
  drafted: Promise<TermDraft[]>;
  cancel: () => void;
}

/** Drafts a term in the background of this page. @param told  is told the share that is done */
export function draftInBackground(term: TermToDraft, told: (share: number) => void): Drafting {
  const worker = new Worker(new URL("../workers/term.worker.ts", import.meta.url), { type: "module" });
  const drafted = new Promise<TermDraft[]>((resolve, reject) => {
    worker.onmessage = ({ data }: MessageEvent<TermAnswer>) => {
      if (data.kind === "progress") return told(data.share);
      worker.terminate();
      if (data.kind === "done") resolve(data.drafts);
      else reject(new Error(`The term could not be drafted: ${data.problem}`));
    };
    worker.onerror = () => reject(new Error("Terms cannot be drafted in this browser."));
    worker.postMessage(term);
  });
  return { drafted, cancel: () => worker.terminate() };
}

/** So many strips are saved at once. */
const AT_ONCE = 200;

/** Strips that were put in, with the versions that take them off again. */
export type PutIn = { id: string; version: number }[];

/** Puts a drafted term on the ribbon, some strips at a time. @throws ApiError  what was put in until then stays */
export async function putTermIn(
  drafts: readonly TermDraft[],
  since: number,
  titleOf: (proposal: TermDraft["proposals"][number]) => string,
  told: (share: number) => void,
): Promise<PutIn> {
  const strips = drafts.flatMap(({ proposals }) =>
    proposals.map(({ key: _key, ...proposal }, place) => ({
      ...proposal,
      id: crypto.randomUUID(),
      title: titleOf({ key: _key, ...proposal }),
      place: AFTER_WHAT_STANDS + place,
      note: "",
    })),
  );
  const put: PutIn = [];
  for (let at = 0; at < strips.length; at += AT_ONCE) {
    const some = strips.slice(at, at + AT_ONCE);
    const { version } = await call<SavedPlan>("PUT", "/api/plan/strips", {
      since,
      changes: some.map((strip) => ({ id: strip.id, basis: null, strip })),
    });
    put.push(...some.map(({ id }) => ({ id, version })));
    told((at + some.length) / strips.length);
  }
  return put;
}

/** Behind everything that stands on a day already. */
const AFTER_WHAT_STANDS = 1000;

/** Takes them off again; what somebody changed meanwhile stays. @returns how many were left because of that */
export async function takeTermOff(put: PutIn, since: number): Promise<number> {
  let left = 0;
  for (let at = 0; at < put.length; at += AT_ONCE) {
    const some = put.slice(at, at + AT_ONCE);
    const { refused } = await call<SavedPlan>("PUT", "/api/plan/strips", {
      since,
      changes: some.map(({ id, version }) => ({ id, basis: version, strip: null })),
    });
    left += refused.length;
  }
  return left;
}
