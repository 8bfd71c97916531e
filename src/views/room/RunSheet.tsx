import type { WallCommand, WallState } from "../../core/room";
import type { RoomSheet } from "../../services/room/wire";

interface Props {
  sheet: RoomSheet;
  state: WallState;
  say: (command: WallCommand) => void;
}

/** Every block of the lesson in the order it is done, on the phone: one can be gone to at once, or done next. */
export function RunSheet({ sheet, state, say }: Props) {
  const place = state.order.indexOf(state.at);
  const blocks = state.order.flatMap((id) => sheet.blocks.find((block) => block.id === id) ?? []);
  return (
    <details>
      <summary className="cursor-pointer py-2">Run sheet</summary>
      <ol aria-label="Run sheet" className="panel divide-y divide-base-300">
        {blocks.map(({ id, title, minutes }, i) => (
          <li key={id} className="flex items-center gap-2 px-3 py-1">
            <span className="min-w-0 flex-1">
              <span className={id === state.at ? "font-bold" : ""}>{title}</span>{" "}
              <span className="text-sm text-quiet">
                {id === state.at
                  ? "now"
                  : state.done.includes(id)
                    ? "done"
                    : state.skipped.includes(id)
                      ? "left out"
                      : `${Math.round(minutes)} min`}
              </span>
            </span>
            {id !== state.at && (
              <button
                type="button"
                className="btn h-11 border-base-300 bg-base-100"
                aria-label={`${title}: now`}
                onClick={() => say({ kind: "go", block: id })}
              >
                Now
              </button>
            )}
            {i !== place && i !== place + 1 && (
              <button
                type="button"
                className="btn h-11 border-base-300 bg-base-100"
                aria-label={`${title}: next`}
                onClick={() => say({ kind: "swap", block: id })}
              >
                Next
              </button>
            )}
          </li>
        ))}
      </ol>
    </details>
  );
}
