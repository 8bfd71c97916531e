import { useState } from "react";
import type { RoomLogBox } from "../../client/room";
import { absentOf, ROOM_TAGS, type RoomEntry, standing, type WallState } from "../../core/room";
import { DYNAMICS } from "../../core/score";
import type { RoomBlock, RoomSheet } from "../../services/room/wire";
import { noteText } from "../../ui/wording";

interface Props {
  sheet: RoomSheet;
  state: WallState;
  block: RoomBlock | undefined;
  log: RoomLogBox;
  entries: readonly RoomEntry[];
  /** Has some play and the others rest; everybody when null. */
  call: (instruments: string[] | null) => void;
  /** Shows the rows of some, or all of them. */
  show: (instruments: string[] | null) => void;
}

/** Taps of the log: whom it is about, what is heard, and the star; about the bars that are on. */
export function RemoteLog({ sheet, state, block, log, entries, call, show }: Props) {
  const [who, setWho] = useState<string[]>([]);
  const [own, setOwn] = useState("");
  const [hands, setHands] = useState<{ question: string; up: string } | null>(null);
  const here = standing(entries);
  const blockId = block?.id ?? null;
  const about = { bars: state.bars, instruments: who };
  const tag = (word: string) => log.note({ kind: "tag", tag: word, ...about }, blockId);
  const nameOf = (id: string) => sheet.players.find((player) => player.id === id)?.name ?? "somebody";
  const labelOf = (id: string) => sheet.instruments.find((instrument) => instrument.id === id)?.label ?? id;
  const absent = new Set(absentOf(entries));
  const ownTags = [
    ...new Set(
      here.flatMap(({ note }) =>
        note.kind === "tag" && !(ROOM_TAGS as readonly string[]).includes(note.tag) ? [note.tag] : [],
      ),
    ),
  ];
  const chip = (on: boolean) => `btn h-11 ${on ? "btn-primary" : "border-base-300 bg-base-100"}`;
  return (
    <section aria-label="Log" className="flex flex-col gap-2">
      <h2 className="text-base">
        What you hear{state.bars ? `, bars ${state.bars}` : ""}
        {who.length > 0 && `, ${who.map(labelOf).join(", ")}`}
      </h2>
      <fieldset className="flex flex-wrap gap-1" aria-label="Section">
        {sheet.instruments.map(({ id, label }) => (
          <button
            key={id}
            type="button"
            aria-pressed={who.includes(id)}
            className={chip(who.includes(id))}
            onClick={() => setWho(who.includes(id) ? who.filter((each) => each !== id) : [...who, id])}
          >
            {label}
          </button>
        ))}
        {who.length > 0 && (
          <button type="button" className="btn h-11 border-base-300 bg-base-100" onClick={() => call(who)}>
            Only they play
          </button>
        )}
        {who.length > 0 && (
          <button type="button" className="btn h-11 border-base-300 bg-base-100" onClick={() => show(who)}>
            Only their names
          </button>
        )}
        {state.shown !== null && (
          <button type="button" className="btn h-11 border-base-300 bg-base-100" onClick={() => show(null)}>
            All names
          </button>
        )}
        {state.playingOnes !== null && (
          <button type="button" className="btn h-11 border-base-300 bg-base-100" onClick={() => call(null)}>
            Everybody plays
          </button>
        )}
      </fieldset>
      <fieldset className="flex flex-wrap gap-1" aria-label="What is heard">
        {[...ROOM_TAGS, ...ownTags].map((word) => (
          <button key={word} type="button" className={chip(false)} onClick={() => tag(word)}>
            {word}
          </button>
        ))}
        <button
          type="button"
          className="btn h-11 border-accent bg-reed"
          onClick={() => log.note({ kind: "star", ...about }, blockId)}
        >
          ★ next time
        </button>
        <form
          className="join"
          onSubmit={(event) => {
            event.preventDefault();
            if (own.trim() !== "") tag(own.trim());
            setOwn("");
          }}
        >
          <input
            className="input join-item h-11 w-36 border-neutral"
            aria-label="An own word"
            placeholder="an own word"
            maxLength={40}
            value={own}
            onChange={({ target }) => setOwn(target.value)}
          />
          <button type="submit" className="btn join-item h-11 border-base-300 bg-base-100">
            Note it
          </button>
        </form>
      </fieldset>
      <fieldset className="flex flex-wrap gap-1" aria-label="Dynamics">
        {DYNAMICS.map((dynamic) => (
          <button
            key={dynamic}
            type="button"
            className={`${chip(false)} italic`}
            onClick={() => log.note({ kind: "dynamics", dynamic, ...about }, blockId)}
          >
            {dynamic}
          </button>
        ))}
      </fieldset>
      {hands === null ? (
        <button
          type="button"
          className="btn border-base-300 bg-base-100"
          onClick={() => setHands({ question: "", up: "" })}
        >
          Count hands
        </button>
      ) : (
        <form
          className="flex flex-wrap items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            log.note(
              { kind: "hands", question: hands.question, up: Math.min(300, Number(hands.up) || 0) },
              blockId,
            );
            setHands(null);
          }}
        >
          <label className="flex flex-1 flex-col text-sm">
            For what
            <input
              className="input border-neutral"
              maxLength={80}
              value={hands.question}
              placeholder="better than before"
              onChange={({ target }) => setHands({ ...hands, question: target.value })}
            />
          </label>
          <label className="flex w-20 flex-col text-sm">
            Hands
            <input
              className="input border-neutral"
              inputMode="numeric"
              value={hands.up}
              onChange={({ target }) =>
                setHands({ ...hands, up: target.value.replace(/\D/g, "").slice(0, 3) })
              }
            />
          </label>
          <button type="submit" className="btn btn-primary" disabled={hands.up === ""}>
            Note it
          </button>
        </form>
      )}
      <details>
        <summary className="cursor-pointer py-2">
          Absent: {absent.size === 0 ? "nobody" : absent.size}
        </summary>
        <div className="flex flex-wrap gap-1">
          {sheet.players.map(({ id, name }) => (
            <button
              key={id}
              type="button"
              aria-pressed={absent.has(id)}
              className={chip(absent.has(id))}
              onClick={() => log.note({ kind: "absent", playerId: id }, null)}
            >
              {name}
            </button>
          ))}
        </div>
      </details>
      <ul className="panel divide-y divide-base-300" data-testid="noted">
        {here
          .slice(-8)
          .reverse()
          .map(({ id, note }) => (
            <li key={id} className="flex items-center justify-between gap-2 px-3 py-1 text-sm">
              {noteText(note, nameOf, labelOf)}
              <button type="button" className="btn btn-ghost btn-sm" onClick={() => log.undo(id)}>
                Undo
              </button>
            </li>
          ))}
        {here.length === 0 && (
          <li className="px-3 py-2 text-sm text-quiet">
            Nothing noted yet. One tap keeps it, with the bars that are on.
          </li>
        )}
      </ul>
    </section>
  );
}
