import { useEffect, useMemo, useState } from "react";
import { INSTRUMENTS, instrumentById, type Stage } from "../../core/music";
import {
  BALANCE_CAUTION,
  type Block,
  blockDemands,
  blockTitle,
  buildBlock,
  type Clock,
  clockOf,
  clockText,
  FAMILY_CAUTIONS,
  FAMILY_NAMES,
  type Family,
  fitToBudget,
  type PlayerKind,
  restBalance,
  routinePlan,
  temposOf,
  usualBlock,
  WarmUpError,
} from "../../core/warmup";
import type { BandSeat, RoutineDetail } from "../../services/warmups/schema";
import { GiveForm } from "../../ui/GiveForm";
import { Count, Pick } from "../../ui/Pick";
import { usePlayAlong } from "../../ui/use-play-along";
import { useReady } from "../../ui/use-ready";
import { SendHome } from "../shelf/SendHome";
import { BlockList } from "./BlockList";
import { BlockPreview } from "./BlockPreview";
import { BlockSettings } from "./BlockSettings";
import { onePerInstrument } from "./kinds";
import { useRoutine } from "./use-routine";
import { Versions } from "./Versions";

interface Props {
  routine: RoutineDetail;
  seats: BandSeat[];
  groups: { id: string; name: string; players: number }[];
}

/** Builds a warm-up: blocks in order, a clock against the time there is, every instrument's part. */
export function RoutineDesk({ routine: opened, seats, groups }: Props) {
  const desk = useRoutine(opened);
  const ready = useReady();
  const { now, change, changeBlock } = desk;
  const [chosen, setChosen] = useState(now.blocks[0]?.id ?? "");
  const [adding, setAdding] = useState<Family>("long-tones");
  const [told, setTold] = useState<string[]>([]);
  const [giving, setGiving] = useState(false);
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
      ...(changes.length > 0 ? changes : ["It fits already; nothing was taken away."]),
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
    player
      .start(routinePlan(now, first), {
        count: true,
        click: true,
        reference: true,
        sound: first.instrument.id,
      })
      .catch(() =>
        desk.setProblem("This browser cannot play sound right now. Reload the page and try again."),
      );
  };
  const soundingBlock = playing
    ? (clock?.blocks.findLast((each) => each.fromSec <= player.planSec)?.id ?? "")
    : "";

  return (
    <div className="flex flex-col gap-4">
      <div className="flex flex-wrap items-end gap-3">
        <label className="flex min-w-56 flex-1 flex-col text-sm font-bold">
          Name
          <input
            className="input w-full border-neutral font-normal"
            value={now.title}
            maxLength={160}
            onChange={(event) => change({ ...now, title: event.target.value })}
          />
        </label>
        <Count
          label="Minutes"
          value={now.budgetSec / 60}
          least={1}
          most={60}
          change={(minutes) => Number.isFinite(minutes) && change({ ...now, budgetSec: 60 * minutes })}
        />
        <Count
          label="Between, s"
          value={now.changeoverSec}
          least={0}
          most={60}
          change={(changeoverSec) => Number.isFinite(changeoverSec) && change({ ...now, changeoverSec })}
        />
        <Count
          label="Piece, bpm"
          value={now.pieceBpm}
          least={30}
          most={240}
          change={(pieceBpm) => Number.isFinite(pieceBpm) && change({ ...now, pieceBpm })}
        />
        <div className="flex gap-2">
          <button
            type="button"
            className="btn border-base-300 bg-base-100"
            disabled={!desk.canUndo}
            onClick={desk.undo}
          >
            Undo
          </button>
          <button
            type="button"
            className="btn border-base-300 bg-base-100"
            disabled={!desk.canRedo}
            onClick={desk.redo}
          >
            Redo
          </button>
          <button
            type="button"
            className="btn btn-primary"
            disabled={!ready || !desk.changed || desk.saving || problem !== null}
            onClick={desk.save}
          >
            {desk.saving
              ? "Saving …"
              : desk.changed
                ? `Save as version ${desk.version + 1}`
                : `Version ${desk.version}, saved`}
          </button>
        </div>
      </div>
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
          <div className="flex min-w-0 flex-col gap-3">
            <section className="panel flex flex-col gap-3 p-4">
              <div className="flex flex-wrap items-end justify-between gap-3">
                <label className="flex min-w-56 flex-1 flex-col text-sm font-bold">
                  {FAMILY_NAMES[block.family]}
                  <input
                    className="input w-full border-neutral font-normal"
                    value={block.title}
                    placeholder="own heading, if you want one"
                    maxLength={80}
                    aria-label={`Heading of ${blockTitle(block)}`}
                    onChange={(event) => changeBlock({ ...block, title: event.target.value })}
                  />
                </label>
                <button
                  type="button"
                  className="btn border-base-300 bg-base-100"
                  disabled={block.family === "breathing"}
                  aria-expanded={giving}
                  onClick={() => setGiving(!giving)}
                >
                  Give as homework
                </button>
              </div>
              <BlockSettings block={block} change={changeBlock} />
              {problem && (
                <p role="alert" className="flex flex-wrap items-center gap-3 text-felt">
                  {problem.message}
                  <button
                    type="button"
                    className="btn btn-sm border-base-300 bg-base-100 text-base-content"
                    onClick={() => changeBlock(problem.offer)}
                  >
                    Use the nearest
                  </button>
                </p>
              )}
              {FAMILY_CAUTIONS[block.family] && (
                <p className="text-sm text-brass">{FAMILY_CAUTIONS[block.family]}</p>
              )}
              {groups.length > 0 && (
                <fieldset className="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
                  <legend className="float-left mr-3 font-bold">Sits out:</legend>
                  {groups.map((group) => (
                    <label key={group.id} className="flex items-center gap-1">
                      <input
                        type="checkbox"
                        className="checkbox checkbox-sm"
                        checked={block.mutedFor.includes(group.id)}
                        onChange={() =>
                          changeBlock({
                            ...block,
                            mutedFor: block.mutedFor.includes(group.id)
                              ? block.mutedFor.filter((id) => id !== group.id)
                              : [...block.mutedFor, group.id],
                          })
                        }
                      />
                      {group.name}
                    </label>
                  ))}
                </fieldset>
              )}
            </section>
            {giving && block.family !== "breathing" && (
              <GiveForm
                key={block.id}
                heading={`Give ${blockTitle(block)} as homework`}
                groups={groups}
                bpm={temposOf(block.tempo, now.pieceBpm).at(-1)!}
                path={`/api/routines/${opened.id}/given`}
                extra={{ blockId: block.id }}
                note={
                  desk.changed && (
                    <p className="text-sm text-felt">
                      The last saved version is given. Save first, if this block has changed.
                    </p>
                  )
                }
              />
            )}
            {!problem && (
              <BlockPreview block={block} kinds={kinds} pieceBpm={now.pieceBpm} demands={demandsOf(block)} />
            )}
            {!problem && kinds.length > 0 && (
              <details className="panel p-4">
                <summary className="cursor-pointer font-bold">Files to send home</summary>
                <div className="mt-3">
                  <SendHome
                    key={block.id}
                    title={blockTitle(block)}
                    bpm={temposOf(block.tempo, now.pieceBpm).at(-1)!}
                    people={onePerInstrument(kinds).map(({ instrument }) => ({
                      id: instrument.id,
                      name: instrument.name,
                    }))}
                    partFor={async (id) => {
                      const kind = kinds.find((each) => each.instrument.id === id)!;
                      return {
                        name: kind.instrument.name,
                        sound: id,
                        score: buildBlock(block, now.pieceBpm)(kind).score,
                      };
                    }}
                  />
                </div>
              </details>
            )}
          </div>
        )}
      </div>
    </div>
  );
}

/** Instruments, stages and builds of the band, each once, with the groups their players are in. */
function playerKinds(seats: BandSeat[]): (PlayerKind & { groups: string[] })[] {
  const kinds = new Map<string, PlayerKind & { groups: string[] }>();
  for (const { instrumentId, stage, variant, groupIds } of seats) {
    const key = `${instrumentId}/${stage}/${variant}`;
    const known = kinds.get(key);
    kinds.set(key, {
      instrument: instrumentById(instrumentId),
      stage,
      variant,
      groups: [...new Set([...(known?.groups ?? []), ...groupIds])],
    });
  }
  const place = (kind: PlayerKind) => INSTRUMENTS.findIndex((each) => each.id === kind.instrument.id);
  return [...kinds.values()].sort((a, b) => place(a) - place(b));
}

/** Null where a block cannot be played: its own sentence stands beside its settings. */
function clockOrNull<T>(compute: () => T): T | null {
  try {
    return compute();
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

function problemOf(block: Block, pieceBpm: number): WarmUpError | null {
  try {
    clockOf({ title: "", blocks: [block], changeoverSec: 0, budgetSec: 60, pieceBpm });
    return null;
  } catch (error) {
    if (error instanceof WarmUpError) return error;
    throw error;
  }
}

function freshId(blocks: Block[]): string {
  let number = blocks.length + 1;
  while (blocks.some((block) => block.id === `b${number}`)) number++;
  return `b${number}`;
}

function longestOf(clock: Clock | null, blocks: Block[]): string {
  const longest = clock?.blocks.reduce((a, b) => (b.seconds > a.seconds ? b : a));
  const block = blocks.find((each) => each.id === longest?.id);
  return block ? `${blockTitle(block)} with ${clockText(longest!.seconds)}` : "the first";
}

/** The routine as a strip of its blocks against the time there is. */
function TimeBar({
  blocks,
  clock,
  budgetSec,
  choose,
}: {
  blocks: Block[];
  clock: Clock | null;
  budgetSec: number;
  choose: (id: string) => void;
}) {
  if (!clock) return null;
  const whole = Math.max(clock.totalSec, budgetSec, 1);
  const share = (sec: number) => `${(100 * sec) / whole}%`;
  return (
    <div>
      <div className="relative h-9 overflow-hidden rounded border border-base-300 bg-base-100">
        {clock.blocks.map((each, i) => (
          <button
            key={each.id}
            type="button"
            title={`${blockTitle(blocks[i]!)}, ${clockText(each.fromSec)} to ${clockText(each.fromSec + each.seconds)}`}
            className="absolute top-0 h-full overflow-hidden border-r border-base-100 bg-reed px-1 text-left text-sm"
            style={{ left: share(each.fromSec), width: share(each.seconds) }}
            onClick={() => choose(each.id)}
          >
            <span className="block truncate">{blockTitle(blocks[i]!)}</span>
          </button>
        ))}
        <div className="absolute top-0 h-full w-0.5 bg-felt" style={{ left: share(budgetSec) }} />
      </div>
      <p className="mt-1 text-sm" data-testid="clock">
        <span className={clock.overSec > 0 ? "font-bold text-felt" : ""}>
          {clockText(clock.totalSec)} of {clockText(budgetSec)}
          {clock.overSec > 0 ? `, ${clockText(clock.overSec)} too long` : ", ends on time"}
        </span>
        <span className="text-quiet"> · exact from counts and tempi, each block counted off</span>
      </p>
    </div>
  );
}
