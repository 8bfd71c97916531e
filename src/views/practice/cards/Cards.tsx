import { useEffect, useMemo, useRef, useState } from "react";
import { countActivity, takeSeconds } from "../../../client/activity";
import { tell } from "../../../client/practice-log";
import { type CardRating, type CardState, cardsDue, type Fact, reviewed } from "../../../core/practice";
import type { CardFace, PracticeView } from "../../../services/practice/wire";
import { Beneath } from "../Beneath";
import { usePractice } from "../use-practice";
import { Face } from "./Face";

/** Two minutes a day; so many cards fit into them. */
const SITTING_MS = 120_000;
const MOST = 20;

const RATINGS: readonly [CardRating, string][] = [
  ["again", "Not known"],
  ["hard", "With trouble"],
  ["good", "Known"],
  ["easy", "At once"],
];

/** Notes, fingerings, rhythms and signs that were taught, each asked again when it is about to be forgotten. */
export default function Cards({ playerId, close }: { playerId: string; close: () => void }) {
  useEffect(countActivity, []);
  const { view, own, problem } = usePractice(playerId);
  return (
    <Beneath
      title="Cards"
      says="Two minutes a day. Say the answer aloud, or show it with your hands, before you turn the card."
      problem={problem}
      close={close}
    >
      {view && <Sitting view={view} answered={own} playerId={playerId} close={close} />}
    </Beneath>
  );
}

/** Every card as it stands, with answers of this device that the bench had not seen when it told the states. */
function statesNow(view: PracticeView, own: readonly Fact[]): Map<string, CardState> {
  const states = new Map<string, CardState>(Object.entries(view.cards.states));
  for (const fact of own) {
    if (fact.kind !== "card") continue;
    const before = states.get(fact.card) ?? null;
    if (!before?.lastReview || before.lastReview < fact.at)
      states.set(fact.card, reviewed(before, fact.rating, fact.at));
  }
  return states;
}

function Sitting({
  view,
  answered,
  playerId,
  close,
}: {
  view: PracticeView;
  answered: readonly Fact[];
  playerId: string;
  close: () => void;
}) {
  const byId = useMemo(() => new Map(view.cards.deck.map((card) => [card.id, card])), [view]);
  const [states] = useState(() => statesNow(view, answered));
  const began = useRef(Date.now());
  const [queue, setQueue] = useState(() =>
    cardsDue(
      view.cards.deck.map(({ id }) => id),
      states,
      new Date().toISOString(),
      MOST,
    ),
  );
  const [turned, setTurned] = useState(false);
  const [count, setCount] = useState(0);
  const card = byId.get(queue[0] ?? "");

  const rate = async (rating: CardRating) => {
    if (!card || !turned) return;
    setTurned(false);
    setCount(count + 1);
    const now = new Date().toISOString();
    const state = reviewed(states.get(card.id) ?? null, rating, now);
    states.set(card.id, state);
    const rest = queue.slice(1);
    const over = Date.now() - began.current > SITTING_MS;
    // What was not known comes again before the end.
    setQueue(over ? [] : rating === "again" ? [...rest, card.id] : rest);
    await tell(playerId, { kind: "card", card: card.id, rating, seconds: takeSeconds() }, view.today);
  };

  if (view.cards.deck.length === 0)
    return <p className="panel p-4">There are no cards yet. They come with the first notes you learn.</p>;
  if (!card)
    return (
      <section className="panel flex flex-col gap-3 p-4" data-testid="cards-done">
        <p className="text-xl font-bold">
          {count > 0 ? `${count} cards. Done for now.` : "Nothing is due today."}
        </p>
        <p>
          The bench asks each card again when you are about to forget it. {view.cards.deck.length} cards in
          all.
        </p>
        <button type="button" className="btn btn-primary h-12" onClick={close}>
          Back to my stand
        </button>
      </section>
    );
  return (
    <section className="flex flex-col gap-4" aria-label="Card">
      <button
        type="button"
        className="panel flex min-h-64 w-full flex-col items-center justify-center gap-4 p-4"
        onClick={() => setTurned(true)}
        data-testid="card"
      >
        <Face card={card as CardFace} turned={turned} hints={view.cards} />
      </button>
      {turned ? (
        <div className="grid grid-cols-2 gap-2 sm:grid-cols-4">
          {RATINGS.map(([rating, words]) => (
            <button
              key={rating}
              type="button"
              className={`btn h-14 ${rating === "good" ? "btn-primary" : "border-base-300 bg-base-100"}`}
              onClick={() => void rate(rating)}
            >
              {words}
            </button>
          ))}
        </div>
      ) : (
        <button type="button" className="btn btn-primary h-14" onClick={() => setTurned(true)}>
          Turn it over
        </button>
      )}
      <p className="text-sm text-quiet">{queue.length} to go</p>
    </section>
  );
}
