import { toString as drawCode } from "qrcode";
import { useEffect, useState } from "react";
import { nameList } from "../../ui/wording";

/** A sign-in card as it is shown once, to be printed or written down. */
export interface Card {
  playerId: string;
  name: string;
  classCode: string;
  words: string;
}

/** Where a card's code leads: class code and name are filled in and never reach a server's log; only the words are typed. */
export function cardAddress(origin: string, card: Pick<Card, "classCode" | "name">): string {
  return `${origin}/sign-in#${new URLSearchParams({ class: card.classCode, name: card.name })}`;
}

/** The cards just drawn: to be printed, one for every instrument case. */
export function Cards({ cards, address, close }: { cards: Card[]; address: string; close: () => void }) {
  return (
    <section aria-label="Sign-in cards">
      <div className="no-print mb-2 flex items-center gap-2">
        <p className="font-bold">These words are shown only now. Print them or write them down.</p>
        <button type="button" className="btn btn-sm border-base-300 bg-base-100" onClick={() => print()}>
          Print {cards.length === 1 ? "the card" : `${cards.length} cards`}
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={close}>
          Done
        </button>
      </div>
      <ul className="grid gap-3 sm:grid-cols-2 print:grid-cols-2">
        {cards.map((card) => (
          <li
            key={card.playerId}
            className="panel flex break-inside-avoid items-start gap-4 p-4"
            data-testid="card"
          >
            <div className="min-w-0 flex-1">
              <p className="font-heading text-xl font-bold">{card.name}</p>
              <p className="text-sm">{address.replace(/^https?:\/\//, "")}</p>
              <p className="text-sm">Class code {card.classCode}</p>
              <p className="mt-2 text-xl" data-testid="words">
                {card.words}
              </p>
              <p className="mt-2 text-sm text-quiet">
                Show the square to a phone, then type the four words. Keep this card with your instrument;
                nobody else needs it.
              </p>
            </div>
            <Code text={cardAddress(address, card)} name={card.name} />
          </li>
        ))}
      </ul>
    </section>
  );
}

/** A QR code, drawn as a path: sharp on paper. */
function Code({ text, name }: { text: string; name: string }) {
  const [svg, setSvg] = useState("");
  useEffect(() => {
    let current = true;
    drawCode(text, { type: "svg", margin: 0, errorCorrectionLevel: "M" }).then((drawn) => {
      if (current) setSvg(drawn);
    });
    return () => {
      current = false;
    };
  }, [text]);
  return (
    <div
      className="h-28 w-28 shrink-0"
      role="img"
      aria-label={`Code that opens sign-in for ${name}`}
      data-address={text}
      dangerouslySetInnerHTML={{ __html: svg }}
    />
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
          : `${having.length} of these players have a card already.`}
      </p>
      <p className="text-sm">
        With a new card the old words end, and {nameList(having)} {having.length === 1 ? "is" : "are"} signed
        out on every device until they type the new ones. What they recorded stays. For a minute it can be
        taken back.
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
