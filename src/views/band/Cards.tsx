import { nameList } from "../../ui/wording";

/** A sign-in card as it is shown once, to be printed or written down. */
export interface Card {
  name: string;
  classCode: string;
  words: string;
}

/** The cards just drawn. */
export function Cards({ cards, close }: { cards: Card[]; close: () => void }) {
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

interface AskProps {
  /** Whose cards are drawn anew: those who have one, and those who have none yet. */
  having: string[];
  without: number;
  busy: boolean;
  draw: () => void;
  leave: () => void;
}

/** Asked before a card in somebody's instrument case stops working: whose, and what it ends. */
export function AskForCards({ having, without, busy, draw, leave }: AskProps) {
  const all = having.length + without;
  return (
    <div role="alertdialog" aria-label="New sign-in cards" className="no-print panel flex flex-col gap-2 p-4">
      <p className="font-bold">
        {having.length === 1
          ? `${having[0]} has a card already.`
          : `${having.length} players have a card already.`}
      </p>
      <p className="text-sm">
        With a new card the old words end, and {nameList(having)} {having.length === 1 ? "is" : "are"} signed
        out on every device until they type the new ones. What they recorded stays.
        {without > 0 &&
          ` ${without} ${without === 1 ? "player gets a first card" : "players get a first card"}.`}
      </p>
      <div className="flex gap-2">
        <button type="button" className="btn btn-error btn-sm" disabled={busy} onClick={draw}>
          End the old cards and draw {all === 1 ? "a new one" : all}
        </button>
        <button type="button" className="btn btn-sm border-base-300 bg-base-100" onClick={leave}>
          Leave the old cards
        </button>
      </div>
    </div>
  );
}
