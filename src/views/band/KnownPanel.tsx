import { useState } from "react";
import { call } from "../../client/api";
import type { PlayerPage } from "../../services/growth/schema";
import type { InstrumentKnowledge, ShownThing } from "../../services/knowledge/schema";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { reasonText, STAGE_NAMES, stageReason } from "../../ui/wording";

interface Props {
  player: Pick<PlayerPage, "id" | "name" | "today">;
  instrument: InstrumentKnowledge;
  everyNote: React.ReactNode;
}

/** What a player knows on one instrument: the notes on their ladder, the rest by name, each with its reason. */
export function KnownPanel({ player, instrument, everyNote }: Props) {
  const { busy, problem, run } = useCall();
  const [open, setOpen] = useState<string | null>(null);
  const { instrumentId, things } = instrument;
  const change = async (work: () => Promise<unknown>) => {
    const done = await run(async () => {
      await work();
      return true;
    }, "This could not be kept.");
    if (done) location.reload();
  };
  const notes = new Map(
    things.flatMap((each) => (each.kind === "note" ? [[Number(each.thing), each] as const] : [])),
  );
  const others = things.filter(({ kind }) => kind !== "note");
  const acts = {
    busy,
    takeAway: ({ kind, thing }: ShownThing) =>
      change(() => call("DELETE", `/api/players/${player.id}/knowledge`, { instrumentId, kind, thing })),
    exempt: ({ thing, exempt }: ShownThing) =>
      change(() =>
        call("PUT", `/api/players/${player.id}/exempt`, {
          instrumentId,
          writtenMidi: Number(thing),
          exempt: !exempt,
        }),
      ),
  };
  const teach = (midi: number) =>
    change(() =>
      call("POST", "/api/teachings", {
        playerId: player.id,
        instrumentId,
        things: [{ kind: "note", thing: String(midi) }],
        on: player.today,
      }),
    );
  return (
    <section className="panel p-4">
      <h2 className="text-xl">
        {instrument.name}{" "}
        <span className="text-base font-normal text-quiet">
          {STAGE_NAMES[instrument.stage]}
          {instrument.to ? `, until ${instrument.to}` : ""}
        </span>
      </h2>
      {instrument.suggestion && (
        <p className="text-sm text-brass">
          {stageReason(instrument.suggestion)} Set it in the table of people.
        </p>
      )}
      <Problem text={problem} className="text-sm" />
      {instrument.ladder.length > 0 && (
        <>
          <p className="mt-1 text-sm text-quiet">
            {notes.size === 1 ? "One note is" : `${notes.size} notes are`} known. A filled bead sounds, an
            open one is known and was not heard right yet. Choose a note for its reason, or to mark it as
            taught.
          </p>
          <ol className="mt-2 flex flex-wrap gap-1" aria-label={`Notes of ${instrument.name}`}>
            {instrument.ladder.toReversed().map((step) => {
              const known = notes.get(step.midi);
              const inRange =
                instrument.range && step.midi >= instrument.range.low && step.midi <= instrument.range.high;
              return (
                <li key={step.midi}>
                  <button
                    type="button"
                    aria-expanded={open === String(step.midi)}
                    className={`flex w-14 flex-col items-center rounded border py-1 text-sm ${open === String(step.midi) ? "border-accent bg-reed" : inRange ? "border-base-300 bg-base-100" : "border-dashed border-base-300 text-quiet"}`}
                    onClick={() => setOpen(open === String(step.midi) ? null : String(step.midi))}
                  >
                    <span
                      aria-hidden="true"
                      className={`h-3 w-3 rounded-full border-2 ${known ? (known.level === "sounds" ? "border-base-content bg-base-content" : "border-base-content") : "border-transparent"}`}
                    />
                    <b>{step.name}</b>
                    <span className="sr-only">
                      {known ? (known.level === "sounds" ? "sounds" : "known") : "not known"}
                    </span>
                    <span className="text-quiet">{step.concert}</span>
                  </button>
                </li>
              );
            })}
          </ol>
          {open !== null &&
            (notes.has(Number(open)) ? (
              <Reasons thing={notes.get(Number(open))!} {...acts} />
            ) : (
              <p className="mt-2 flex items-center gap-3 text-sm">
                {instrument.ladder.find(({ midi }) => String(midi) === open)?.name} was not taught yet.
                <button
                  type="button"
                  className="btn btn-xs btn-primary text-sm"
                  disabled={busy}
                  onClick={() => teach(Number(open))}
                >
                  Taught today
                </button>
              </p>
            ))}
        </>
      )}
      {everyNote && <div className="mt-3">{everyNote}</div>}
      {others.length > 0 && (
        <details className="mt-3 text-sm">
          <summary className="cursor-pointer font-bold">
            Rhythms, signs and techniques ({others.length})
          </summary>
          <ul className="mt-1 grid gap-x-6 gap-y-1 sm:grid-cols-2">
            {others.map((each) => (
              <li key={`${each.kind}/${each.thing}`}>
                <b>{each.name}</b>{" "}
                <span className="text-quiet">{each.reasons.map(reasonText).join("; ")}</span>{" "}
                <button
                  type="button"
                  className="link"
                  disabled={busy}
                  aria-label={`${player.name} does not know ${each.name}`}
                  onClick={() => acts.takeAway(each)}
                >
                  not yet
                </button>
              </li>
            ))}
          </ul>
        </details>
      )}
      {instrument.ladder.length === 0 && others.length === 0 && (
        <p className="text-sm text-quiet">
          Nothing is known yet. What you mark as taught, and what is heard right, comes here.
        </p>
      )}
    </section>
  );
}

interface ReasonsProps {
  thing: ShownThing;
  busy: boolean;
  takeAway: (thing: ShownThing) => void;
  exempt: (thing: ShownThing) => void;
}

function Reasons({ thing, busy, takeAway, exempt }: ReasonsProps) {
  return (
    <div className="mt-2 rounded border border-base-300 p-2 text-sm">
      <p>
        <b>{thing.name}</b> (concert {thing.concert}): {thing.reasons.map(reasonText).join("; ")}.
        {thing.exempt && " It is not judged for this player."}
      </p>
      <div className="mt-1 flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-xs border-base-300 bg-base-100 text-sm"
          disabled={busy}
          onClick={() => takeAway(thing)}
        >
          Does not know it yet
        </button>
        <button
          type="button"
          className="btn btn-xs border-base-300 bg-base-100 text-sm"
          disabled={busy}
          onClick={() => exempt(thing)}
        >
          {thing.exempt ? "Judge it again" : "Do not judge it (small hands)"}
        </button>
      </div>
    </div>
  );
}
