import { useState } from "react";
import {
  type Block,
  type blockDemands,
  blockTitle,
  buildBlock,
  FAMILY_NAMES,
  type PlayerKind,
  temposOf,
  type WarmUpError,
} from "../../core/warmup";
import { GiveForm } from "../../ui/GiveForm";
import { FAMILY_CAUTIONS } from "../../ui/wording";
import { SendHome } from "../shelf/SendHome";
import { BlockPreview } from "./BlockPreview";
import { BlockSettings } from "./BlockSettings";
import { onePerInstrument } from "./kinds";

interface Props {
  routineId: string;
  block: Block;
  pieceBpm: number;
  /** The routine has changes that are not saved. */
  changed: boolean;
  problem: WarmUpError | null;
  kinds: (PlayerKind & { groups: string[] })[];
  groups: { id: string; name: string; players: number }[];
  /** The day that stands in the form to give it at first. */
  due: string;
  demands: ReturnType<typeof blockDemands>;
  change: (block: Block) => void;
}

/** One block: its settings, who sits it out, what it looks and sounds like, and giving it. */
export function BlockPanel({
  routineId,
  block,
  pieceBpm,
  changed,
  problem,
  kinds,
  groups,
  due,
  demands,
  change,
}: Props) {
  const [giving, setGiving] = useState(false);
  return (
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
              onChange={(event) => change({ ...block, title: event.target.value })}
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
        <BlockSettings block={block} change={change} />
        {problem && (
          <p role="alert" className="flex flex-wrap items-center gap-3 text-felt">
            {problem.message}
            <button
              type="button"
              className="btn btn-sm border-base-300 bg-base-100 text-base-content"
              onClick={() => change(problem.offer)}
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
                    change({
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
          bpm={temposOf(block.tempo, pieceBpm).at(-1)!}
          due={due}
          path={`/api/routines/${routineId}/given`}
          extra={{ blockId: block.id }}
          note={
            changed && (
              <p className="text-sm text-felt">
                The last saved version is given. Save first, if this block has changed.
              </p>
            )
          }
        />
      )}
      {!problem && <BlockPreview block={block} kinds={kinds} pieceBpm={pieceBpm} demands={demands} />}
      {!problem && kinds.length > 0 && (
        <details className="panel p-4">
          <summary className="cursor-pointer font-bold">Files to send home</summary>
          <div className="mt-3">
            <SendHome
              key={block.id}
              title={blockTitle(block)}
              bpm={temposOf(block.tempo, pieceBpm).at(-1)!}
              people={onePerInstrument(kinds).map(({ instrument }) => ({
                id: instrument.id,
                name: instrument.name,
              }))}
              partFor={async (id) => {
                const kind = kinds.find((each) => each.instrument.id === id)!;
                return {
                  name: kind.instrument.name,
                  sound: id,
                  score: buildBlock(block, pieceBpm)(kind).score,
                };
              }}
            />
          </div>
        </details>
      )}
    </div>
  );
}
