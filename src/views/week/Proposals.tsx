import { call } from "../../client/api";
import { instrumentById } from "../../core/music";
import type { Proposal } from "../../core/plan";
import type { DraftView, RibbonView } from "../../services/week/schema";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import {
  PLAYER_STEP_TEXT,
  paceText,
  planReason,
  proposalTitle,
  STEP_TEXT,
  unfilledText,
} from "../../ui/wording";
import { accept, type Drafting, draftWithout } from "./accept";
import { dayName, groupName } from "./names";

type Props = Drafting & { view: RibbonView };

/** What the week could hold, drafted from what is known, each thing with its reason: put it in, or turn it down. */
export function Proposals({ view, plan, draft, setDraft, say }: Props) {
  const { run, busy, problem } = useCall();
  const ask = async () => {
    const answer = await run(
      () => call<DraftView>("POST", "/api/plan/draft", { monday: view.monday }),
      "This week could not be drafted. Try again in a moment.",
    );
    if (!answer) return;
    setDraft(answer);
    plan.addAsks(answer.asks);
    const count = answer.groups.reduce((sum, { proposals }) => sum + proposals.length, 0);
    say(count === 1 ? "1 proposal." : `${count} proposals.`);
  };
  const put = (proposals: readonly Proposal[]) => accept({ plan, draft, setDraft, say }, proposals);
  const turnDown = async (groupId: string, proposal: string, said: string, down: boolean) => {
    const done = await run(
      () => call("PUT", "/api/plan/turned-down", { groupId, proposal, said, down }),
      "This was not remembered. Try again in a moment.",
    );
    if (done === undefined || !draft) return;
    const next = down ? draftWithout(draft, new Set([`${groupId}/${proposal}`])) : draft;
    setDraft({
      ...next,
      groups: next.groups.map((group) =>
        group.groupId === groupId
          ? {
              ...group,
              turnedDown: [
                ...group.turnedDown.filter((each) => each.proposal !== proposal),
                ...(down ? [{ proposal, said }] : []),
              ],
            }
          : group,
      ),
    });
    say(down ? `${said} is not proposed again.` : `${said} may be proposed again.`);
  };
  const all = draft?.groups.flatMap(({ proposals }) => proposals) ?? [];
  return (
    <section aria-label="Proposed" className="flex flex-col gap-3">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="text-xl">Proposed</h2>
        <button type="button" className="btn btn-sm btn-primary" disabled={busy} onClick={ask}>
          {busy && !draft ? "Drafting …" : draft ? "Draft it anew" : "Draft this week"}
        </button>
        {all.length > 0 && (
          <button type="button" className="btn btn-sm border-base-300" onClick={() => put(all)}>
            Put all {all.length} in
          </button>
        )}
        {!draft && (
          <p className="text-sm text-quiet">
            From the order you teach in, what was taught and heard, concerts, and the minutes of each day.
          </p>
        )}
      </div>
      <Problem text={problem} />
      {draft && all.length === 0 && <p className="text-sm">Nothing more is proposed for this week.</p>}
      {draft?.groups.map((group) => (
        <GroupDraft key={group.groupId} group={group} view={view} accept={put} turnDown={turnDown} />
      ))}
    </section>
  );
}

function nameOf(view: RibbonView, groupId: string, playerId: string): string {
  const members = view.groups.find(({ id }) => id === groupId)?.members ?? [];
  return members.find(({ id }) => id === playerId)?.name ?? "somebody";
}

function whomOf(view: RibbonView, { forWhom, groupId }: Proposal): string {
  if (forWhom.kind === "instrument") return instrumentById(forWhom.instrumentId).name;
  return forWhom.kind === "player" ? nameOf(view, groupId, forWhom.playerId) : "everybody";
}

/** So many groups are shown with all their proposals; of more, each is opened. */
const FEW_GROUPS = 1;

interface GroupProps {
  group: DraftView["groups"][number];
  view: RibbonView;
  accept: (proposals: readonly Proposal[]) => void;
  turnDown: (groupId: string, proposal: string, said: string, down: boolean) => void;
}

function GroupDraft({ group, view, accept, turnDown }: GroupProps) {
  const { groupId, proposals, unfilled, step, players, pace, turnedDown } = group;
  if (proposals.length === 0 && unfilled.length === 0 && turnedDown.length === 0) return null;
  const named = (proposal: Proposal) =>
    `${proposalTitle(proposal)}${proposal.firstBar === null ? "" : `, bars ${proposal.firstBar + 1} to ${proposal.lastBar! + 1}`}`;
  return (
    <details className="group panel p-3" open={view.groups.length <= FEW_GROUPS}>
      <summary className="flex cursor-pointer flex-wrap items-baseline gap-x-3 text-sm">
        <span aria-hidden="true" className="transition-transform group-open:rotate-90">
          ▸
        </span>
        <h3 className="text-base font-bold">{groupName(view, groupId)}</h3>
        <span>{proposals.length === 1 ? "1 proposal" : `${proposals.length} proposals`}</span>
        <span>{STEP_TEXT[step]}</span>
        {pace && <span className="text-quiet">{paceText(pace)}</span>}
      </summary>
      {proposals.length > 1 && (
        <button type="button" className="btn btn-sm my-2 border-base-300" onClick={() => accept(proposals)}>
          Put these {proposals.length} in
        </button>
      )}
      <ul className="grid gap-2 md:grid-cols-2 xl:grid-cols-3">
        {proposals.map((proposal) => (
          <li
            key={proposal.key}
            className="flex flex-col gap-1 rounded border border-dashed border-accent p-2 text-sm"
          >
            <span>
              <strong>{named(proposal)}</strong>
              {proposal.forWhom.kind !== "everyone" && <> for {whomOf(view, proposal)}</>} ·{" "}
              {proposal.minutes} min, {dayName(view, proposal.date)},{" "}
              {proposal.where === "home" ? "at home" : "in class"}
            </span>
            <span className="text-quiet">{planReason(proposal.reason)}</span>
            <span className="mt-auto flex gap-2">
              <button type="button" className="btn btn-xs border-base-300" onClick={() => accept([proposal])}>
                Put it in
              </button>
              <button
                type="button"
                className="btn btn-ghost btn-xs"
                onClick={() => turnDown(groupId, proposal.key, named(proposal), true)}
              >
                Not this
              </button>
            </span>
          </li>
        ))}
      </ul>
      {players.length > 0 && (
        <p className="mt-2 text-sm">
          Another way than the group:{" "}
          {players
            .map(
              ({ playerId, step: own, clean }) =>
                `${nameOf(view, groupId, playerId)} ${PLAYER_STEP_TEXT[own]} (${Math.round(100 * clean)} % clean)`,
            )
            .join(", ")}
          .
        </p>
      )}
      {unfilled.length > 0 && (
        <ul className="mt-2 text-sm text-quiet">
          {unfilled.map((each) => {
            const [, where, date] = each.slot.split("/");
            return (
              <li key={each.slot}>
                {dayName(view, date!)}, {where === "home" ? "at home" : "in class"}: {unfilledText(each)}
              </li>
            );
          })}
        </ul>
      )}
      {turnedDown.length > 0 && (
        <p className="mt-2 flex flex-wrap gap-2 text-sm text-quiet">
          Turned down:
          {turnedDown.map(({ proposal, said }) => (
            <button
              key={proposal}
              type="button"
              className="link"
              onClick={() => turnDown(groupId, proposal, said, false)}
              title="It may be proposed again"
            >
              {said} ×
            </button>
          ))}
        </p>
      )}
    </details>
  );
}
