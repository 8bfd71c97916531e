import { useEffect, useState } from "react";
import { call } from "../../client/api";
import { useCall } from "../../ui/use-call";
import type { Card } from "./Cards";

/** Players whose cards are drawn in one request. */
const A_BATCH = 10;
/** So long a draw can be taken back, seconds. */
const UNDO_SEC = 60;

export interface CardDrawing {
  cards: Card[];
  busy: boolean;
  problem: string;
  /** Cards drawn, of how many; null while none are being drawn. */
  progress: { done: number; of: number } | null;
  /** Seconds for which the last draw can be taken back. */
  undoSec: number;
  draw(playerIds: string[]): Promise<void>;
  undo(): Promise<void>;
  close(): void;
}

/** Draws sign-in cards in batches, so that a whole band shows how far it is, and takes the last draw back. */
export function useCards(changed: () => Promise<void>): CardDrawing {
  const [cards, setCards] = useState<Card[]>([]);
  const [progress, setProgress] = useState<CardDrawing["progress"]>(null);
  const [draw, setDraw] = useState<{ id: string; until: number } | null>(null);
  const [now, setNow] = useState(0);
  const { busy, problem, run } = useCall();

  useEffect(() => {
    if (!draw) return;
    const tick = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(tick);
  }, [draw]);
  const undoSec = draw ? Math.max(0, Math.ceil((draw.until - now) / 1000)) : 0;

  return {
    cards,
    busy,
    problem,
    progress,
    undoSec,
    async draw(playerIds) {
      const drawId = crypto.randomUUID();
      const drawn: Card[] = [];
      await run(async () => {
        for (let at = 0; at < playerIds.length; at += A_BATCH) {
          setProgress({ done: at, of: playerIds.length });
          const answer = await call<{ cards: Card[] }>("POST", "/api/cards", {
            drawId,
            playerIds: playerIds.slice(at, at + A_BATCH),
          });
          drawn.push(...answer.cards);
          // Words already drawn are shown even when the others fail: nobody sees them again.
          setCards([...drawn]);
        }
      }, "The cards could not be drawn.");
      setProgress(null);
      if (drawn.length > 0) {
        setNow(Date.now());
        setDraw({ id: drawId, until: Date.now() + UNDO_SEC * 1000 });
      }
      await changed();
    },
    async undo() {
      if (!draw) return;
      const done = await run(() => call("DELETE", `/api/cards/${draw.id}`), "This could not be taken back.");
      if (!done) return;
      setCards([]);
      setDraw(null);
      await changed();
    },
    close: () => setCards([]),
  };
}
