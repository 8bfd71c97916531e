import { Fragment, useState } from "react";
import { call } from "../../client/api";
import type { WeekItem } from "../../services/week/schema";
import { Problem } from "../../ui/Problem";
import { type Packed, unpacked } from "../../ui/packed";
import { useCall } from "../../ui/use-call";
import { termsInShort } from "../../ui/wording";
import { ChangeItem, dayOf } from "./ChangeItem";
import { MakeUpTest } from "./MakeUpTest";

/** What is assigned, line by line: how far it is and who is missing. Taking one back can be undone. */
export function WeekItems({ data, today }: { data: Packed<WeekItem[]>; today: string }) {
  const [items, setItems] = useState(() => unpacked(data));
  const [open, setOpen] = useState<string | null>(null);
  const [gone, setGone] = useState<string[]>([]);
  const { problem, run } = useCall();
  const setWithdrawn = async (id: string, withdrawn: boolean) => {
    const done = await run(
      () => call(withdrawn ? "PUT" : "DELETE", `/api/assignments/${id}/withdrawn`),
      "This did not work. Try again in a moment.",
    );
    if (done) setGone((all) => (withdrawn ? [...all, id] : all.filter((each) => each !== id)));
  };
  if (items.length === 0) {
    return (
      <p className="panel p-6">
        Nothing is assigned yet. Open the{" "}
        <a className="link" href="/shelf">
          Shelf
        </a>
        , choose a line such as No. 9, and give it to a group with a goal tempo and a day.
      </p>
    );
  }
  return (
    <div className="panel overflow-x-auto">
      <Problem text={problem} className="p-3" />
      <table className="table [&_td]:align-top">
        <thead className="text-base-content">
          <tr>
            <th>Due</th>
            <th>Line</th>
            <th>For</th>
            <th>Goal</th>
            <th className="w-48">Sent</th>
            <th>Not sent yet</th>
            <th>
              <span className="sr-only">Change or take back</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {items.map((item) =>
            gone.includes(item.assignmentId) ? (
              <tr key={item.assignmentId}>
                <td colSpan={7} className="text-quiet">
                  {item.lineTitle} for {item.groupName} was taken back; takes already sent are kept.{" "}
                  <button
                    type="button"
                    className="link"
                    onClick={() => setWithdrawn(item.assignmentId, false)}
                  >
                    Undo
                  </button>
                </td>
              </tr>
            ) : (
              <Fragment key={item.assignmentId}>
                <Row
                  item={item}
                  today={today}
                  withdraw={() => setWithdrawn(item.assignmentId, true)}
                  change={() => setOpen(open === item.assignmentId ? null : item.assignmentId)}
                  changing={open === item.assignmentId}
                />
                {open === item.assignmentId && (
                  <tr>
                    <td colSpan={7}>
                      {item.terms.test && !item.makesUp && <MakeUpTest item={item} />}
                      <ChangeItem
                        item={item}
                        close={() => setOpen(null)}
                        changed={(now) => {
                          setItems(
                            items.map((each) => (each.assignmentId === now.assignmentId ? now : each)),
                          );
                          setOpen(null);
                        }}
                      />
                    </td>
                  </tr>
                )}
              </Fragment>
            ),
          )}
        </tbody>
      </table>
    </div>
  );
}

interface RowProps {
  item: WeekItem;
  today: string;
  withdraw: () => void;
  change: () => void;
  changing: boolean;
}

function Row({ item, today, withdraw, change, changing }: RowProps) {
  const sent = item.tasks - item.missing.length;
  return (
    <tr>
      <td className="whitespace-nowrap">
        <span className={item.overdue ? "font-bold text-felt" : ""}>{item.dueLabel}</span>
        {item.overdue && <span className="block text-sm text-felt">past due</span>}
      </td>
      <td>
        <a className="whitespace-nowrap font-bold hover:underline" href={`/shelf/${item.lineId}`}>
          {item.lineNumber ? `No. ${item.lineNumber} · ` : ""}
          {item.lineTitle}
        </a>
        {item.firstBar !== null && (
          <span className="block text-sm text-quiet">
            bars {item.bars[item.firstBar]} to {item.bars[item.lastBar!]}
          </span>
        )}
        {(termsInShort(item.terms) || item.makesUp) && (
          <span className="block text-sm text-brass">
            {[item.makesUp ? "make-up" : "", termsInShort(item.terms)].filter(Boolean).join(", ")}
          </span>
        )}
        {item.opensOn !== null && item.opensOn > today && (
          <span className="block text-sm text-quiet">opens {dayOf(item.opensOn)}</span>
        )}
        {item.hardestBar && (
          <span className="block whitespace-nowrap text-sm text-felt">
            bar {item.hardestBar.label}: wrong in {item.hardestBar.wrong} of {item.hardestBar.takes}
          </span>
        )}
      </td>
      <td>{item.groupName}</td>
      <td className="whitespace-nowrap">
        {item.goalBpm} bpm<span className="block text-sm text-quiet">{item.timesPerWeek} times a week</span>
      </td>
      <td>
        <span>
          {sent} of {item.tasks}
        </span>
        <div className="mt-1 flex h-2 w-full overflow-hidden rounded bg-base-300" aria-hidden="true">
          <div className="bg-done" style={{ width: `${(100 * item.accepted) / item.tasks}%` }} />
          <div className="bg-accent" style={{ width: `${(100 * item.waiting) / item.tasks}%` }} />
          <div className="bg-felt" style={{ width: `${(100 * item.again) / item.tasks}%` }} />
        </div>
        <span className="text-sm text-quiet">
          {[
            [item.accepted, "accepted"],
            [item.waiting, "waiting"],
            [item.again, "asked again"],
          ]
            .filter(([count]) => count)
            .map(([count, word]) => `${count} ${word}`)
            .join(", ") || "nothing yet"}
        </span>
      </td>
      <td className="text-sm">
        <Missing players={item.missing} />
      </td>
      <td className="whitespace-nowrap">
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          aria-expanded={changing}
          aria-label={`Change ${item.lineTitle} for ${item.groupName}`}
          onClick={change}
        >
          Change
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm whitespace-nowrap"
          onClick={withdraw}
          aria-label={`Take back ${item.lineTitle} for ${item.groupName}`}
        >
          Take back
        </button>
      </td>
    </tr>
  );
}

function Missing({ players }: { players: WeekItem["missing"] }) {
  const [first, ...others] = players.map((player) => `${player.name}, ${player.instrument}`);
  if (first === undefined) return <span className="text-done">everyone has sent one</span>;
  if (others.length === 0) return <span>{first}</span>;
  return (
    <details>
      <summary className="cursor-pointer">
        {players[0]!.name} and {others.length} more
      </summary>
      <ul className="mt-1">
        {[first, ...others].map((each) => (
          <li key={each}>{each}</li>
        ))}
      </ul>
    </details>
  );
}
