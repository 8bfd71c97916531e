import { useState } from "react";
import { ApiError, call } from "../../client/api";
import type { BandOverview } from "../../services/band/schema";
import { Field } from "../../ui/Field";
import { useReady } from "../../ui/use-ready";
import { STAGE_NAMES } from "../../ui/wording";

interface Card {
  name: string;
  classCode: string;
  words: string;
}

/** People, instruments and groups; sign-in cards are drawn here, shown once and printed. */
export function BandDesk({
  band,
  instruments,
}: {
  band: BandOverview;
  instruments: { id: string; name: string; builds: { id: string; name: string }[] }[];
}) {
  const [cards, setCards] = useState<Card[]>([]);
  const [problem, setProblem] = useState("");
  const ready = useReady();
  const [chosen, setChosen] = useState<string[]>([]);
  const nameOf = new Map(instruments.map((instrument) => [instrument.id, instrument.name]));

  const drawCards = async () => {
    setProblem("");
    const drawn: Card[] = [];
    try {
      for (const id of chosen) drawn.push(await call<Card>("POST", `/api/players/${id}/card`));
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "The cards could not be drawn.");
    }
    setCards(drawn);
    setChosen([]);
  };

  const setBuild = async (playerId: string, instrumentId: string, variant: string) => {
    setProblem("");
    try {
      await call("PUT", `/api/players/${playerId}/builds/${instrumentId}`, { variant });
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "The build could not be kept.");
    }
  };

  return (
    <div className="grid gap-4 lg:grid-cols-[1fr_300px]">
      <div className="flex min-w-0 flex-col gap-3">
        {problem && (
          <p role="alert" className="text-felt">
            {problem}
          </p>
        )}
        {cards.length > 0 && <Cards cards={cards} close={() => setCards([])} />}
        <div className="no-print flex flex-wrap items-center gap-2">
          <button
            type="button"
            className="btn btn-primary"
            disabled={chosen.length === 0}
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
                      setChosen(event.target.checked ? band.players.map((player) => player.id) : [])
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
                        setChosen(
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
                  <td className="text-sm">{player.hasCard ? "drawn" : "none yet"}</td>
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

function Cards({ cards, close }: { cards: Card[]; close: () => void }) {
  return (
    <section aria-label="Sign-in cards">
      <div className="no-print mb-2 flex items-center gap-2">
        <p className="font-bold">These words are shown only now. Print them or write them down.</p>
        <button type="button" className="btn btn-sm border-base-300 bg-base-100" onClick={() => print()}>
          Print
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={close}>
          Done
        </button>
      </div>
      <ul className="grid gap-3 sm:grid-cols-2">
        {cards.map((card) => (
          <li key={card.name} className="panel break-inside-avoid p-4" data-testid="card">
            <p className="font-heading text-xl font-bold">{card.name}</p>
            <p className="text-sm text-quiet">Class code {card.classCode}</p>
            <p className="mt-2 text-xl" data-testid="words">
              {card.words}
            </p>
            <p className="mt-2 text-sm text-quiet">
              Keep this card with your instrument. Nobody else needs it.
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}

function useSubmit(path: string, shape: (form: FormData) => unknown) {
  const [problem, setProblem] = useState("");
  const [fields, setFields] = useState<Record<string, string>>({});
  const submit = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    setProblem("");
    setFields({});
    try {
      await call("POST", path, shape(new FormData(event.currentTarget)));
      location.reload();
    } catch (error) {
      const known = error instanceof ApiError ? error : new ApiError("This could not be saved.", "failed");
      setProblem(known.message);
      setFields(known.fields);
    }
  };
  return { submit, problem, fields, ready: useReady() };
}

function AddPlayerForm({
  band,
  instruments,
}: {
  band: BandOverview;
  instruments: { id: string; name: string }[];
}) {
  const { submit, problem, fields, ready } = useSubmit("/api/players", (form) => ({
    name: form.get("name"),
    instruments: [form.get("instrument")],
    stage: form.get("stage"),
    groupIds: form.getAll("group"),
  }));
  return (
    <form onSubmit={submit} className="panel flex flex-col gap-1 p-4" noValidate>
      <h2 className="text-xl">Add a player</h2>
      <Field label="Name" error={fields.name}>
        <input name="name" className="input w-full border-neutral" maxLength={120} />
      </Field>
      <Field label="Instrument">
        <select name="instrument" className="select w-full border-neutral">
          {instruments.map((instrument) => (
            <option key={instrument.id} value={instrument.id}>
              {instrument.name}
            </option>
          ))}
        </select>
      </Field>
      <Field label="Stage">
        <select name="stage" className="select w-full border-neutral" defaultValue="five-notes">
          {Object.entries(STAGE_NAMES).map(([id, name]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </Field>
      <fieldset className="mb-2">
        <legend className="font-bold">Groups</legend>
        {band.groups.map((group) => (
          <label key={group.id} className="flex items-center gap-2 py-0.5">
            <input type="checkbox" name="group" value={group.id} className="checkbox checkbox-sm" />
            {group.name} ({group.players})
          </label>
        ))}
      </fieldset>
      {problem && (
        <p role="alert" className="text-sm font-bold text-felt">
          {problem}
        </p>
      )}
      <button type="submit" className="btn btn-primary" disabled={!ready}>
        Add to the band
      </button>
    </form>
  );
}

function AddGroupForm({ band }: { band: BandOverview }) {
  const { submit, problem, fields, ready } = useSubmit("/api/groups", (form) => ({ name: form.get("name") }));
  return (
    <form onSubmit={submit} className="panel flex flex-col gap-1 p-4" noValidate>
      <h2 className="text-xl">Add a group</h2>
      <Field
        label="Name"
        error={fields.name ?? (problem || undefined)}
        hint={band.groups.length < 2 ? "For example Reeds or Low Brass" : ""}
      >
        <input name="name" className="input w-full border-neutral" maxLength={80} />
      </Field>
      <button type="submit" className="btn border-base-300 bg-base-100" disabled={!ready}>
        Add
      </button>
    </form>
  );
}
