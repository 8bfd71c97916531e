import type { LiveChoice } from "../../services/listening/wire";

/** Which line is heard in class now. */
export function LiveChoices({ choices }: { choices: readonly LiveChoice[] }) {
  if (choices.length === 0)
    return (
      <p className="panel p-4">
        Nothing is given to be heard. Give a line first, on the{" "}
        <a className="link" href="/shelf">
          Shelf
        </a>
        .
      </p>
    );
  return (
    <>
      <p className="mb-3 max-w-2xl">
        One player after the other plays, here, into this device. The bench hears it at once; you mark it and
        call the next. It goes on without network: what was heard is kept on this device and sent later.
      </p>
      <ul className="panel divide-y divide-base-300">
        {choices.map(({ assignmentId, groupName, lineTitle, lineNumber, dueLabel, test, players, left }) => (
          <li key={assignmentId}>
            <a
              className="flex flex-wrap items-baseline justify-between gap-3 px-4 py-2 hover:bg-secondary/30"
              href={`/listen/live?of=${assignmentId}`}
            >
              <span>
                <b>
                  {lineNumber ? `No. ${lineNumber} · ` : ""}
                  {lineTitle}
                </b>
                , {groupName}
                {test && <b> · playing test</b>}
              </span>
              <span className="text-sm text-quiet">
                due {dueLabel} · {left === 0 ? "all accepted" : `${left} of ${players} to hear`}
              </span>
            </a>
          </li>
        ))}
      </ul>
    </>
  );
}
