import { useRef, useState } from "react";
import { call } from "../../client/api";
import { type Drafting, draftInBackground, type PutIn, putTermIn, takeTermOff } from "../../client/term";
import { type TermDraft as Drafted, mondayOf } from "../../core/plan";
import type { TermToDraft, TermView } from "../../services/week/schema";
import { metByText, proposalTitle } from "../../ui/wording";

interface Props {
  weeks: Pick<TermView["weeks"][number], "monday" | "label">[];
  groups: TermView["groups"];
}

/** What the draft of a term is at. */
type State =
  | { at: "nothing" }
  | { at: "drafting"; share: number }
  | { at: "drafted"; drafts: Drafted[]; version: number }
  | { at: "putting"; share: number }
  | { at: "put"; put: PutIn; version: number }
  | { at: "failed"; problem: string };

/** The rest of the term drafted at once: looked at week by week, then put on the ribbon or left. */
export function TermDraft({ weeks, groups }: Props) {
  const [state, setState] = useState<State>({ at: "nothing" });
  const drafting = useRef<Drafting | null>(null);
  const failed = (error: unknown) => setState({ at: "failed", problem: (error as Error).message });

  const draft = async () => {
    setState({ at: "drafting", share: 0 });
    try {
      const term = await call<TermToDraft>("GET", "/api/plan/term");
      drafting.current = draftInBackground(term, (share) => setState({ at: "drafting", share }));
      setState({ at: "drafted", drafts: await drafting.current.drafted, version: term.version });
    } catch (error) {
      failed(error);
    }
  };
  const cancel = () => {
    drafting.current?.cancel();
    setState({ at: "nothing" });
  };
  const put = async (drafts: Drafted[], version: number) => {
    setState({ at: "putting", share: 0 });
    try {
      const made = await putTermIn(drafts, version, proposalTitle, (share) =>
        setState({ at: "putting", share }),
      );
      setState({ at: "put", put: made, version });
    } catch (error) {
      failed(error);
    }
  };
  const takeOff = async (made: PutIn, version: number) => {
    try {
      const left = await takeTermOff(made, version);
      setState(
        left === 0
          ? { at: "nothing" }
          : { at: "failed", problem: `${left} strips were changed meanwhile and stay.` },
      );
    } catch (error) {
      failed(error);
    }
  };

  return (
    <section aria-label="The rest of the term" className="panel mb-4 flex flex-col gap-3 p-4">
      <div className="flex flex-wrap items-center gap-3">
        {(state.at === "nothing" || state.at === "failed") && (
          <button type="button" className="btn btn-primary" onClick={draft}>
            Draft the rest of the term
          </button>
        )}
        {state.at === "nothing" && (
          <p className="text-sm text-quiet">
            Week by week from your order, your concerts and your pace, as if all went well. You look at it
            first.
          </p>
        )}
        {state.at === "drafting" && (
          <>
            <progress className="progress w-64" value={state.share} max={1} aria-label="Share drafted" />
            <span className="text-sm">{Math.round(100 * state.share)} % drafted</span>
            <button type="button" className="btn btn-sm" onClick={cancel}>
              Cancel
            </button>
          </>
        )}
        {state.at === "drafted" && (
          <>
            <button
              type="button"
              className="btn btn-primary"
              disabled={count(state.drafts) === 0}
              onClick={() => put(state.drafts, state.version)}
            >
              Put {count(state.drafts)} strips on the ribbon
            </button>
            <button type="button" className="btn btn-ghost" onClick={() => setState({ at: "nothing" })}>
              Leave it
            </button>
          </>
        )}
        {state.at === "putting" && (
          <>
            <progress className="progress w-64" value={state.share} max={1} aria-label="Share put in" />
            <span className="text-sm">being put in …</span>
          </>
        )}
        {state.at === "put" && (
          <output>
            {state.put.length} strips are on the ribbon.{" "}
            <button type="button" className="link" onClick={() => takeOff(state.put, state.version)}>
              Undo
            </button>{" "}
            <a className="link" href="/week/term">
              See the term
            </a>
          </output>
        )}
        {state.at === "failed" && (
          <p role="alert" className="font-bold text-felt">
            {state.problem}
          </p>
        )}
      </div>
      {state.at === "drafted" && <Look drafts={state.drafts} weeks={weeks} groups={groups} />}
    </section>
  );
}

const count = (drafts: readonly Drafted[]) =>
  drafts.reduce((sum, { proposals }) => sum + proposals.length, 0);

/** New lines of each week by group, and when every line of a concert is met. */
function Look({ drafts, weeks, groups }: Props & { drafts: readonly Drafted[] }) {
  const shown = groups.filter(({ id }) => drafts.some(({ groupId }) => groupId === id));
  const of = (groupId: string) => drafts.find((each) => each.groupId === groupId)!;
  const newIn = (groupId: string, monday: string) => [
    ...new Set(
      of(groupId)
        .proposals.filter(
          ({ where, date, reason }) =>
            where === "class" &&
            mondayOf(date) === monday &&
            (reason.kind === "next" || reason.kind === "goal"),
        )
        .map(({ title }) => title),
    ),
  ];
  const ahead = weeks.filter(({ monday }) =>
    drafts.some(({ proposals }) => proposals.some(({ date }) => mondayOf(date) === monday)),
  );
  return (
    <div className="overflow-x-auto">
      <table className="table table-sm">
        <thead className="text-base-content">
          <tr>
            <th>New in class</th>
            {shown.map(({ id, name }) => (
              <th key={id}>{name}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ahead.map(({ monday, label }) => (
            <tr key={monday} className="align-top">
              <th scope="row" className="whitespace-nowrap font-normal">
                {label}
              </th>
              {shown.map(({ id }) => (
                <td key={id}>
                  {newIn(id, monday).join(", ") || <span className="text-quiet">nothing new</span>}
                </td>
              ))}
            </tr>
          ))}
          <tr className="align-top">
            <th scope="row" className="font-normal">
              Concerts and tests
            </th>
            {shown.map(({ id }) => (
              <td key={id}>
                {of(id).goals.map((goal) => (
                  <span key={goal.id} className={`block ${goal.metOn === null ? "font-bold text-felt" : ""}`}>
                    {metByText(goal)}
                  </span>
                ))}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </div>
  );
}
