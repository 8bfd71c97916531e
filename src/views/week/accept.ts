import { type Proposal, type Strip, stripsOn } from "../../core/plan";
import type { DraftView } from "../../services/week/schema";
import { proposalTitle } from "../../ui/wording";
import type { Plan } from "./use-plan";

export interface Drafting {
  plan: Plan;
  draft: DraftView | null;
  setDraft: (draft: DraftView | null) => void;
  say: (words: string) => void;
}

/** A draft without some of its proposals, named by "group/key". */
export function draftWithout(draft: DraftView, keys: ReadonlySet<string>): DraftView {
  return {
    ...draft,
    groups: draft.groups.map((group) => ({
      ...group,
      proposals: group.proposals.filter(({ key }) => !keys.has(`${group.groupId}/${key}`)),
    })),
  };
}

/** Puts proposals into the plan, as one step that undo takes back. */
export function accept({ plan, draft, setDraft, say }: Drafting, proposals: readonly Proposal[]): void {
  const added: Strip[] = [];
  for (const proposal of proposals) added.push(stripOf(proposal, [...plan.strips, ...added]));
  plan.change([...plan.strips, ...added]);
  if (draft) setDraft(draftWithout(draft, new Set(proposals.map(({ groupId, key }) => `${groupId}/${key}`))));
  say(
    proposals.length === 1
      ? `${proposalTitle(proposals[0]!)} was put in.`
      : `${proposals.length} strips were put in.`,
  );
}

function stripOf(proposal: Proposal, strips: readonly Strip[]): Strip {
  const { key: _key, ...rest } = proposal;
  const last = stripsOn(strips, proposal).at(-1);
  return {
    ...rest,
    title: proposalTitle(proposal),
    id: crypto.randomUUID(),
    place: last ? last.place + 1 : 0,
    note: "",
  };
}
