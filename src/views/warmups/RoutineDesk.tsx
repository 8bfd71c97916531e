import { useEffect, useMemo, useState } from "react";
import { instrumentById, type Stage } from "../../core/music";
import {
  type Block,
  blockDemands,
  clockOf,
  clockText,
  FAMILY_NAMES,
  type Family,
  fitToBudget,
  restBalance,
  routinePlan,
  usualBlock,
} from "../../core/warmup";
import type { BandSeat, RoutineDetail } from "../../services/warmups/schema";
import { Pick } from "../../ui/Pick";
import { usePlayAlong } from "../../ui/use-play-along";
import { useReady } from "../../ui/use-ready";
import { BALANCE_CAUTION, fitChangeSentence } from "../../ui/wording";
import { BlockList } from "./BlockList";
import { BlockPanel } from "./BlockPanel";
import { clockOrNull, freshId, longestOf, problemOf } from "./block-work";
import { playerKinds } from "./kinds";
import { RoutineHead } from "./RoutineHead";
import { TimeBar } from "./TimeBar";
import { useRoutine } from "./use-routine";
import { Versions } from "./Versions";

interface Props {
  routine: RoutineDetail;
  seats: BandSeat[];
  groups: { id: string; name: string; players: number }[];
  /** A school day in a week: what stands in the form at first. */
  due: string;
}

/** Builds a warm-up: blocks in order, a clock against the time there is, every instrument's part. */
export function RoutineDesk({ routine: opened, seats, groups, due }: Props) {
  const desk = useRoutine(opened);
  const ready = useReady();
  const { now, change, changeBlock } = desk;
  const [chosen, setChosen] = useState(now.blocks[0]?.id ?? "");
  const [adding, setAdding] = useState<Family>("long-tones");
  const [told, setTold] = useState<string[]>([]);
  const player = usePlayAlong();
  const block = now.blocks.find((each) => each.id === chosen) ?? now.blocks[0];
  const kinds = useMemo(() => playerKinds(seats), [seats]);

  const clock = useMemo(() => clockOrNull(() => clockOf(now)), [now]);
  const balance = useMemo(() => clockOrNull(() => restBalance(now, kinds)), [now, kinds]);
  const demandsOf = useMemo(() => {
    const known = new Map<Block, ReturnType<typeof blockDemands>>();
    return (each: Block) => {
      const before = known.get(each);
      if (before) return before;
      const found = clockOrNull(() => blockDemands(each, kinds, now.pieceBpm)) ?? [];
      known.set(each, found);
      return found;
    };
  }, [kinds, now.pieceBpm]);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
      if (event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement) return;
      event.preventDefault();
      if (event.shiftKey) desk.redo();
      else desk.undo();
    };
    addEventListener("keydown", keys);
    return () => removeEventListener("keydown", keys);
  });

  const setBlocks = (blocks: Block[]) => change({ ...now, blocks });
  const move = (id: string, to: number) => {
    const moved = now.blocks.find((each) => each.id === id)!;
    setBlocks(now.blocks.filter((each) => each.id !== id).toSpliced(to, 0, moved));
  };
  const duplicate = (id: string) => {
    const at = now.blocks.findIndex((each) => each.id === id);
    const copy = { ...now.blocks[at]!, id: freshId(now.blocks) };
    setBlocks(now.blocks.toSpliced(at + 1, 0, copy));
    setChosen(copy.id);
  };
  const add = () => {
    const added = usualBlock(adding, freshId(now.blocks));
    const at = now.blocks.findIndex((each) => each.id === chosen);
    setBlocks(now.blocks.toSpliced(at < 0 ? now.blocks.length : at + 1, 0, added));
    setChosen(added.id);
  };
  const fit = () => {
    const { routine, changes, overSec } = fitToBudget(now);
    if (routine !== now) change(routine);
    setTold([
      ...(changes.length > 0 ? changes.map(fitChangeSentence) : ["It fits already; nothing was taken away."]),
      ...(overSec > 0
        ? [
            `Still ${clockText(overSec)} too long with every rule used up. Remove a block, the longest is ${longestOf(clock, now.blocks)}.`,
          ]
        : []),
    ]);
  };
  const problem = block ? problemOf(block, now.pieceBpm) : null;
  const playing = player.moment !== null;
  const first = kinds[0] ?? { instrument: instrumentById("clarinet"), stage: "small-tunes" as Stage };
  const playAll = () => {
    void player.start(routinePlan(now, first), {
      count: true,
      click: true,
      reference: true,
      sound: first.instrument.id,
    });
  };
  const soundingBlock = playing
    ? (clock?.blocks.findLast((each) => each.fromSec <= player.planSec)?.id ?? "")
    : "";

  return (
    <div className="flex flex-col gap-4">
      <RoutineHead desk={desk} ready={ready && problem === null} />
      {desk.problem && (
        <p role="alert" className="rounded border border-felt bg-base-100 p-3 text-felt">
          {desk.problem}
        </p>
      )}
      <TimeBar blocks={now.blocks} clock={clock} budgetSec={now.budgetSec} choose={setChosen} />
      <div className="flex flex-wrap items-center gap-3 text-sm">
        <button
          type="button"
          className="btn btn-sm border-base-300 bg-base-100"
          onClick={fit}
          disabled={!clock}
        >
          Fit into {clockText(now.budgetSec)}
        </button>
        <button
          type="button"
          className="btn btn-sm border-base-300 bg-base-100"
          disabled={!ready || !clock || now.blocks.length === 0}
          onClick={playing ? player.stop : playAll}
        >
          {playing ? "Stop" : `Play it all with the click (${first.instrument.name})`}
        </button>
        {playing && (
          <output>
            {clockText(player.planSec)} · {player.moment!.phase}
            {player.moment!.count > 0 ? ` · ${player.moment!.count} …` : ""}
          </output>
        )}
        {balance && (
          <p
            className={balance.restingSec < balance.playingSec ? "text-felt" : "text-quiet"}
            data-testid="balance"
          >
            Brass ({balance.instrument.name}) plays {clockText(balance.playingSec)}, rests{" "}
            {clockText(balance.restingSec)}.{" "}
            {balance.restingSec < balance.playingSec
              ? BALANCE_CAUTION
              : "The lips rest as long as they work."}
          </p>
        )}
      </div>
      {told.length > 0 && (
        <output className="panel block p-3 text-sm" data-testid="fitted">
          <ul className="list-disc pl-5">
            {told.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
        </output>
      )}
      {player.note && <output className="text-sm text-quiet">{player.note}</output>}
      <div className="grid gap-4 lg:grid-cols-[350px_1fr]">
        <div className="flex min-w-0 flex-col gap-3">
          {now.blocks.length === 0 && (
            <p className="panel p-4">
              Nothing is in this routine yet. Add breathing first, then long tones: that is a warm-up already.
            </p>
          )}
          <BlockList
            blocks={now.blocks}
            clock={clock}
            chosen={block?.id ?? ""}
            sounding={soundingBlock}
            notReady={(each) => [...new Set(demandsOf(each).map((demand) => demand.player.instrument.short))]}
            choose={setChosen}
            move={move}
            duplicate={duplicate}
            remove={(id) => setBlocks(now.blocks.filter((each) => each.id !== id))}
          />
          <div className="flex items-end gap-2">
            <Pick label="One more" value={adding} options={FAMILY_NAMES} choose={setAdding} />
            <button type="button" className="btn border-base-300 bg-base-100" disabled={!ready} onClick={add}>
              Add
            </button>
          </div>
          <Versions
            routineId={opened.id}
            versions={desk.versions}
            current={desk.version}
            bring={(content) => change(content)}
          />
        </div>
        {block && (
          <BlockPanel
            key={block.id}
            routineId={opened.id}
            block={block}
            pieceBpm={now.pieceBpm}
            changed={desk.changed}
            problem={problem}
            kinds={kinds}
            groups={groups}
            due={due}
            demands={demandsOf(block)}
            change={changeBlock}
          />
        )}
      </div>
    </div>
  );
}
