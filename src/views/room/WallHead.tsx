import { clockText, minutesAfter, minutesLeft } from "../../ui/wording";
import type { Wall } from "./use-wall";

/** Where the lesson is: this block and what is left of it, what comes next, and when it will end. */
export function WallHead({ wall }: { wall: Wall }) {
  const { sheet, block, clock, nowMs, state, led } = wall;
  const next = sheet.blocks.find(({ id }) => id === clock.next);
  // Both are times of the day where the class is.
  // A lesson that is looked at after its class has no time to keep.
  const held = clock.toGoSec > 0 && minutesAfter(clockText(state.begunAt), sheet.endsAt) > 0;
  const lateMin = held ? minutesAfter(sheet.endsAt, clockText(clock.endsAtMs)) : 0;
  const over = clock.blockLeftSec < 0;
  return (
    <header className="flex items-baseline gap-x-[1.5vw] border-b-2 border-base-300 px-[2vw] py-[1vh]">
      <h1 className="wall-large min-w-[38vw] flex-1 truncate font-heading font-bold">
        {block?.title ?? sheet.groupName}
        {block?.forWhom && <span className="font-normal"> · {block.forWhom}</span>}
      </h1>
      <p className="shrink-0 tabular-nums" data-testid="block-left">
        <span className={over ? "font-bold text-error" : "font-bold"}>{minutesLeft(clock.blockLeftSec)}</span>{" "}
        left
      </p>
      <p className="min-w-0 max-w-[20vw] flex-1 truncate">
        {next ? `then ${next.title}` : state.done.includes(state.at) ? "all done" : "then the end"}
      </p>
      {led !== "player" && (
        <p className="shrink-0 tabular-nums" data-testid="ends">
          {clockText(nowMs)} · ends{" "}
          <span className={lateMin > 0 ? "font-bold text-error" : ""}>{clockText(clock.endsAtMs)}</span>
          {lateMin > 0 && <span className="text-error"> +{lateMin} min</span>}
        </p>
      )}
    </header>
  );
}
