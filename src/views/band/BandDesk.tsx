import { useState } from "react";
import { call } from "../../client/api";
import type { BandOverview } from "../../services/band/schema";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { useReady } from "../../ui/use-ready";
import { STAGE_NAMES } from "../../ui/wording";
import { AddGroupForm, AddPlayerForm } from "./AddForms";
import { AskForCards, type Card, Cards } from "./Cards";

/** People, instruments and groups; sign-in cards are drawn here, shown once and printed. */
export function BandDesk({
  band,
  instruments,
}: {
  band: BandOverview;
  instruments: { id: string; name: string; builds: { id: string; name: string }[] }[];
}) {
  const [cards, setCards] = useState<Card[]>([]);
  const [asking, setAsking] = useState(false);
  const [withCard, setWithCard] = useState(
    () => new Set(band.players.filter((player) => player.hasCard).map((player) => player.id)),
  );
  const { busy, problem, run } = useCall();
  const ready = useReady();
  const [chosen, setChosen] = useState<string[]>([]);
  const nameOf = new Map(instruments.map((instrument) => [instrument.id, instrument.name]));

  const having = band.players.filter((player) => chosen.includes(player.id) && withCard.has(player.id));
  const choose = (ids: string[]) => {
    setChosen(ids);
    setAsking(false);
  };

  const drawCards = async () => {
    if (having.length > 0 && !asking) return setAsking(true);
    setAsking(false);
    const drawn: Card[] = [];
    await run(async () => {
      for (const id of chosen) {
        drawn.push(await call<Card>("POST", `/api/players/${id}/card`));
        setWithCard((before) => new Set(before).add(id));
      }
    }, "The cards could not be drawn.");
    // Words already drawn are shown even when the others failed: nobody sees them again.
    if (drawn.length > 0) setCards(drawn);
    setChosen((before) => before.slice(drawn.length));
  };

  const setBuild = (playerId: string, instrumentId: string, variant: string) =>
    run(
      () => call("PUT", `/api/players/${playerId}/builds/${instrumentId}`, { variant }),
      "The build could not be kept.",
    );

  return (
    <div className="grid gap-4 lg:grid-cols-[1fr_300px]">
      <div className="flex min-w-0 flex-col gap-3">
        <Problem text={problem} />
        {cards.length > 0 && <Cards cards={cards} close={() => setCards([])} />}
        {asking && (
          <AskForCards
            having={having.map((player) => player.name)}
            without={chosen.length - having.length}
            busy={busy}
            draw={drawCards}
            leave={() => setAsking(false)}
          />
        )}
        <div className="no-print flex flex-wrap items-center gap-2">
          <button
            type="button"
            className="btn btn-primary"
            disabled={chosen.length === 0 || busy || asking}
            onClick={drawCards}
          >
            {chosen.length === 0
              ? "New sign-in cards"
              : `Draw ${chosen.length} new ${chosen.length === 1 ? "card" : "cards"}`}
          </button>
          <p className="text-sm text-quiet">Choose players below. A new card ends the old one.</p>
        </div>
        <div className="no-print panel overflow-x-auto">
          <table className="table table-sm text-sm">
            <thead className="text-base-content">
              <tr>
                <th>
                  <input
                    type="checkbox"
                    className="checkbox checkbox-sm"
                    disabled={!ready}
                    aria-label="Choose everyone"
                    checked={chosen.length === band.players.length && chosen.length > 0}
                    onChange={(event) =>
                      choose(event.target.checked ? band.players.map((player) => player.id) : [])
                    }
                  />
                </th>
                <th>Player</th>
                <th>Plays</th>
                <th>Groups</th>
                <th>Stage</th>
                <th>Card</th>
              </tr>
            </thead>
            <tbody>
              {band.players.map((player) => (
                <tr key={player.id}>
                  <td>
                    <input
                      type="checkbox"
                      className="checkbox checkbox-sm"
                      disabled={!ready}
                      aria-label={`Choose ${player.name}`}
                      checked={chosen.includes(player.id)}
                      onChange={(event) =>
                        choose(
                          event.target.checked
                            ? [...chosen, player.id]
                            : chosen.filter((id) => id !== player.id),
                        )
                      }
                    />
                  </td>
                  <td className="font-bold">{player.name}</td>
                  <td>
                    {player.instruments.map((id) => {
                      const builds = instruments.find((each) => each.id === id)?.builds ?? [];
                      return (
                        <div key={id} className="flex flex-wrap items-center gap-x-2">
                          {nameOf.get(id)}
                          {builds.length > 0 && (
                            <select
                              className="select select-sm w-auto text-sm border-base-300"
                              aria-label={`${player.name}'s ${nameOf.get(id)}: build`}
                              disabled={!ready}
                              defaultValue={player.builds[id] ?? builds[0]!.id}
                              onChange={(event) => setBuild(player.id, id, event.target.value)}
                            >
                              {builds.map((build) => (
                                <option key={build.id} value={build.id}>
                                  {build.name}
                                </option>
                              ))}
                            </select>
                          )}
                        </div>
                      );
                    })}
                  </td>
                  <td className="text-sm">{player.groups.join(", ")}</td>
                  <td className="text-sm">{STAGE_NAMES[player.stage]}</td>
                  <td className="text-sm">{withCard.has(player.id) ? "drawn" : "none yet"}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {band.players.length === 0 && (
            <p className="p-4">
              Nobody is here yet. Add the first player, for example a clarinet at the stage "five notes".
            </p>
          )}
        </div>
      </div>
      <div className="no-print flex flex-col gap-4">
        <AddPlayerForm band={band} instruments={instruments} />
        <AddGroupForm band={band} />
      </div>
    </div>
  );
}
