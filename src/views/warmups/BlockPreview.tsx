import { useEffect, useMemo, useState } from "react";
import { ApiError, call } from "../../client/api";
import { INSTRUMENTS, instrumentById, type Stage } from "../../core/music";
import { playAlong, tempoLadder } from "../../core/playalong";
import { type Score, timeline } from "../../core/score";
import {
  type Block,
  type BlockDemand,
  blockTitle,
  buildBlock,
  type CutShort,
  type PlayerKind,
  temposOf,
} from "../../core/warmup";
import type { PartView } from "../../services/shelf/schema";
import { FingeringList } from "../../ui/Fingering";
import { Notation } from "../../ui/Notation";
import { Pick } from "../../ui/Pick";
import { usePlayAlong } from "../../ui/use-play-along";
import { cutShortReason, STAGE_NAMES, snagReason } from "../../ui/wording";
import { onePerInstrument } from "./kinds";

interface Props {
  block: Block;
  /** Kinds of players in the band. */
  kinds: PlayerKind[];
  pieceBpm: number;
  demands: BlockDemand[];
}

/** Any instrument's part of a block: seen, heard alone or with the band, and who is not ready for it. */
export function BlockPreview({ block, kinds, pieceBpm, demands }: Props) {
  const [instrumentId, setInstrumentId] = useState(kinds[0]?.instrument.id ?? "clarinet");
  const [stage, setStage] = useState<Stage>(kinds[0]?.stage ?? "small-tunes");
  const [withBand, setWithBand] = useState(true);
  const [shown, setShown] = useState<{ part: PartView; score: Score; cutShort: CutShort | null } | null>(
    null,
  );
  const [problem, setProblem] = useState("");
  const { moment, note, start, stop } = usePlayAlong();
  const variant = kinds.find((kind) => kind.instrument.id === instrumentId)?.variant ?? null;
  const key = JSON.stringify({ block, instrumentId, stage, variant, pieceBpm });

  useEffect(() => {
    let current = true;
    const wait = setTimeout(() => {
      call<{ part: PartView; score: Score; cutShort: CutShort | null }>(
        "POST",
        "/api/routines/preview?width=wide",
        JSON.parse(key),
      ).then(
        (answer) => {
          if (!current) return;
          setShown(answer);
          setProblem("");
        },
        (error: unknown) =>
          current && setProblem(error instanceof ApiError ? error.message : "The part could not be drawn."),
      );
    }, 200);
    return () => {
      current = false;
      clearTimeout(wait);
      stop();
    };
  }, [key, stop]);

  const bandKinds = useMemo(() => onePerInstrument(kinds), [kinds]);
  const play = () => {
    const bpms = temposOf(block.tempo, pieceBpm);
    const build = buildBlock(block, pieceBpm);
    const planOf = (score: Score) =>
      bpms.length > 1 ? tempoLadder(score, bpms) : playAlong(timeline(score, { bpm: bpms[0]! }));
    const others = withBand ? bandKinds.filter((kind) => kind.instrument.id !== instrumentId) : [];
    const own = build({ instrument: instrumentById(instrumentId), stage, variant }).score;
    void start(
      planOf(own),
      { count: true, click: true, reference: true, sound: instrumentId },
      {
        sounds: others.map((kind) => kind.instrument.id),
        band: others.map((kind) => ({
          sound: kind.instrument.id,
          plan: planOf(build(kind).score),
          gain: 0.5,
        })),
      },
    );
  };

  return (
    <section className="panel flex flex-col gap-3 p-4">
      <div className="flex flex-wrap items-end gap-3">
        <Pick
          label="Part for"
          value={instrumentId}
          options={Object.fromEntries(INSTRUMENTS.map(({ id, name }) => [id, name]))}
          choose={setInstrumentId}
        />
        <Pick label="Stage" value={stage} options={STAGE_NAMES} choose={setStage} />
        <button
          type="button"
          className="btn btn-primary w-24"
          disabled={!shown}
          onClick={moment ? stop : play}
        >
          {moment ? "Stop" : "Play"}
        </button>
        <label className="flex h-10 items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={withBand}
            onChange={(event) => setWithBand(event.target.checked)}
          />
          with the band
        </label>
        <output className="h-10 content-center text-base">
          {moment && (moment.count > 0 ? `${moment.count} …` : moment.phase)}
        </output>
      </div>
      {problem && (
        <p role="alert" className="text-felt">
          {problem}
        </p>
      )}
      {note && <output className="text-sm text-quiet">{note}</output>}
      {shown ? (
        <>
          {shown.cutShort && (
            <p className="text-sm text-felt">
              {instrumentById(instrumentId).name}: {cutShortReason(shown.cutShort)}
            </p>
          )}
          <Notation
            svg={shown.part.svg}
            label={`${blockTitle(block)}, part for ${shown.part.instrumentName}`}
            cursorId={moment?.eventId ?? null}
            brackets={shown.part.snags
              .filter((snag) => snag.kind !== "accidental" && snag.kind !== "out-of-range")
              .map((snag) => ({
                fromEventId: snag.fromEventId,
                toEventId: snag.toEventId,
                label: snagReason(snag),
              }))}
          />
          {shown.part.newNotes.length > 0 && (
            <div>
              <h3 className="mb-1 text-base">New at this stage</h3>
              <FingeringList notes={shown.part.newNotes} />
            </div>
          )}
        </>
      ) : (
        !problem && <p className="text-quiet">Drawing the part …</p>
      )}
      <Demands demands={demands} />
    </section>
  );
}

/** Who of the band is not ready for the block, and why. */
function Demands({ demands }: { demands: BlockDemand[] }) {
  if (demands.length === 0)
    return <p className="text-sm text-done">Everybody in the band is ready for this block.</p>;
  return (
    <details>
      <summary className="cursor-pointer font-bold">
        {demands.length === 1 ? "One kind of player is" : `${demands.length} kinds of players are`} not ready
      </summary>
      <ul className="mt-2 flex flex-col gap-1 text-sm">
        {demands.map(({ player, newNotes, newRhythms, newSigns, cutShort }) => (
          <li key={`${player.instrument.id}/${player.stage}/${newNotes}/${newRhythms}/${newSigns}`}>
            <b>
              {player.instrument.name}, {STAGE_NAMES[player.stage]}
            </b>
            {": "}
            {[
              newNotes.length > 0 ? `new notes ${newNotes.join(", ")}` : "",
              newRhythms.length > 0 ? `new rhythms ${newRhythms.join(", ")}` : "",
              newSigns.length > 0 ? `new signs ${newSigns.join(", ")}` : "",
              cutShort ? cutShortReason(cutShort) : "",
            ]
              .filter(Boolean)
              .join("; ")}
          </li>
        ))}
      </ul>
    </details>
  );
}
