import type { TermAnswer } from "../client/term";
import { draftTerm } from "../core/plan";
import type { TermToDraft } from "../services/week/schema";

/** Drafts a term in the background of the page, telling how far it is. */
self.onmessage = ({ data: { groups } }: MessageEvent<TermToDraft>) => {
  const answer = (said: TermAnswer) => self.postMessage(said);
  try {
    const given = groups.map(({ state, slots }) => ({
      state: { ...state, turnedDown: new Set(state.turnedDown) },
      slots,
    }));
    const drafts = draftTerm(given, (done, of) => {
      answer({ kind: "progress", share: done / of });
      return true;
    });
    answer({ kind: "done", drafts: drafts ?? [] });
  } catch (error) {
    answer({ kind: "failed", problem: (error as Error).message });
  }
};
