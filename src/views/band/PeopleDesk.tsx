import { useDeferredValue, useMemo, useState } from "react";
import { instrumentById } from "../../core/music";
import { scorePlace } from "../../core/ready";
import { nameKey } from "../../core/text";
import type { BandOverview, PlayerRow } from "../../services/band/schema";
import { Problem } from "../../ui/Problem";
import { type Packed, unpacked } from "../../ui/packed";
import { useReady } from "../../ui/use-ready";
import { AddPlayerForm } from "./AddPlayerForm";
import { BulkBar } from "./BulkBar";
import { AskForCards, Cards } from "./Cards";
import { FirstSteps } from "./FirstSteps";
import { PeopleTable } from "./PeopleTable";
import { RosterDesk } from "./RosterDesk";
import { UndoLine } from "./UndoLine";
import { type BandState, useBand } from "./use-band";
import { useCards } from "./use-cards";

interface Props {
  data: Packed<{ band: BandOverview; address: string; lines: number; given: number }>;
}

type Opened = "nothing" | "player" | "list";
type Order = "name" | "score";

/** People, instruments and groups in one table; lists come in and go out, cards are drawn here and shown once. */
export function PeopleDesk({ data }: Props) {
  const { band: first, address, lines, given } = useMemo(() => unpacked(data), [data]);
  const desk = useBand(first);
  const cards = useCards(desk.reload);
  const ready = useReady();
  const { band } = desk;
  const [opened, setOpened] = useState<Opened>("nothing");
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [asking, setAsking] = useState<string[] | null>(null);
  const [text, setText] = useState("");
  const [group, setGroup] = useState("");
  const [order, setOrder] = useState<Order>("score");
  const typed = useDeferredValue(text);
  const rows = useMemo(() => shownRows(band, typed, group, order), [band, typed, group, order]);
  const chosenRows = band.players.filter(({ id }) => chosen.has(id));
  const without = band.players.filter(({ hasCard }) => !hasCard);

  const draw = (ids: string[]) => {
    const having = band.players.filter(({ id, hasCard }) => hasCard && ids.includes(id));
    if (having.length > 0 && !asking) return setAsking(ids);
    setAsking(null);
    void cards.draw(ids);
  };
  const toggle = (what: Opened) => setOpened(opened === what ? "nothing" : what);

  return (
    <div className="flex min-w-0 flex-col gap-3">
      <FirstSteps
        band={band}
        lines={lines}
        given={given}
        open={toggle}
        drawCards={() => draw(without.map(({ id }) => id))}
      />
      <Problem text={cards.problem || (opened === "nothing" ? desk.problem : "")} />
      {cards.progress && (
        <label className="no-print flex items-center gap-3">
          Drawing cards: {cards.progress.done} of {cards.progress.of}
          <progress
            className="progress progress-success w-60"
            value={cards.progress.done}
            max={cards.progress.of}
          />
        </label>
      )}
      {cards.undoSec > 0 && (
        <output className="no-print panel flex items-center gap-3 px-3 py-2 text-sm">
          {cards.cards.length === 1 ? "A new card was drawn." : `${cards.cards.length} new cards were drawn.`}
          <button
            type="button"
            className="btn btn-sm border-base-300 bg-base-100"
            disabled={cards.busy}
            onClick={cards.undo}
          >
            Bring the old cards back ({cards.undoSec} s)
          </button>
        </output>
      )}
      {cards.cards.length > 0 && <Cards cards={cards.cards} address={address} close={cards.close} />}
      {asking && (
        <AskForCards
          having={band.players
            .filter(({ id, hasCard }) => hasCard && asking.includes(id))
            .map(({ name }) => name)}
          without={
            asking.length - band.players.filter(({ id, hasCard }) => hasCard && asking.includes(id)).length
          }
          busy={cards.busy}
          draw={() => draw(asking)}
          leave={() => setAsking(null)}
        />
      )}
      <div className="no-print flex flex-wrap items-end gap-2">
        <button
          type="button"
          className="btn btn-primary"
          disabled={!ready}
          aria-expanded={opened === "player"}
          onClick={() => toggle("player")}
        >
          Add a player
        </button>
        <button
          type="button"
          className="btn border-base-300 bg-base-100"
          disabled={!ready}
          aria-expanded={opened === "list"}
          onClick={() => toggle("list")}
        >
          Bring a list in
        </button>
        <a className="btn border-base-300 bg-base-100" href="/api/roster" download>
          Take the list out
        </a>
        {without.length > 0 && (
          <button
            type="button"
            className="btn border-base-300 bg-base-100"
            disabled={!ready || cards.busy}
            onClick={() => draw(without.map(({ id }) => id))}
          >
            Draw cards for {without.length === 1 ? "the one" : `the ${without.length}`} without
          </button>
        )}
        <label className="ml-auto flex flex-col text-sm font-bold">
          Find
          <input
            type="search"
            className="input input-sm w-44 border-neutral font-normal"
            value={text}
            placeholder="name or instrument"
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        <label className="flex flex-col text-sm font-bold">
          Group
          <select
            className="select select-sm w-auto border-neutral font-normal"
            value={group}
            onChange={(event) => setGroup(event.target.value)}
          >
            <option value="">everybody</option>
            {band.groups.map(({ id, name, players }) => (
              <option key={id} value={id}>
                {name} ({players})
              </option>
            ))}
          </select>
        </label>
        <label className="flex flex-col text-sm font-bold">
          Order
          <select
            className="select select-sm w-auto border-neutral font-normal"
            value={order}
            onChange={(event) => setOrder(event.target.value as Order)}
          >
            <option value="score">as in a score</option>
            <option value="name">by name</option>
          </select>
        </label>
      </div>
      {opened === "player" && <AddPlayerForm desk={desk} />}
      {opened === "list" && <RosterDesk desk={desk} close={() => setOpened("nothing")} />}
      <UndoLine desk={desk} />
      {chosenRows.length > 0 && (
        <BulkBar
          desk={desk}
          chosen={chosenRows}
          drawCards={() => draw(chosenRows.map(({ id }) => id))}
          done={() => setChosen(new Set())}
        />
      )}
      {band.players.length > 0 && (
        <>
          <PeopleTable
            band={band}
            rows={rows}
            chosen={chosen}
            choose={setChosen}
            edit={desk.edit}
            busy={desk.busy}
          />
          <p className="no-print text-sm text-quiet">
            {rows.length === band.players.length
              ? `${rows.length} players`
              : `${rows.length} of ${band.players.length} players`}
            . Arrow keys go from cell to cell, Enter changes one, Escape leaves it.
          </p>
        </>
      )}
      {band.gone.length > 0 && <Gone desk={desk} />}
    </div>
  );
}

function shownRows(band: BandOverview, text: string, group: string, order: Order): PlayerRow[] {
  const words = nameKey(text).split(" ").filter(Boolean);
  const found = band.players.filter((row) => {
    const said = nameKey(
      [row.name, row.calledName, row.kit, ...row.instruments.map((id) => instrumentById(id).name)].join(" "),
    );
    return (!group || row.groupIds.includes(group)) && words.every((word) => said.includes(word));
  });
  const place = (row: PlayerRow) => Math.min(...row.instruments.map(scorePlace));
  return order === "name"
    ? found
    : found.toSorted((a, b) => place(a) - place(b) || a.name.localeCompare(b.name));
}

/** Those who left: their history stays, and they come back with a click. */
function Gone({ desk }: { desk: BandState }) {
  return (
    <details className="no-print panel p-3">
      <summary className="cursor-pointer font-bold">
        {desk.band.gone.length === 1 ? "One player has left" : `${desk.band.gone.length} players have left`}
      </summary>
      <ul className="mt-2 flex flex-col gap-1 text-sm">
        {desk.band.gone.map((row) => (
          <li key={row.id} className="flex items-center gap-3">
            <a className="link" href={`/band/${row.id}`}>
              {row.name}
            </a>
            <span className="text-quiet">
              {row.instruments.map((id) => instrumentById(id).name).join(", ")}
            </span>
            <button
              type="button"
              className="btn btn-xs border-base-300 bg-base-100 text-sm"
              disabled={desk.busy}
              onClick={() => desk.edit([{ playerId: row.id, field: "left", was: true, is: false }])}
            >
              Is back
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}
