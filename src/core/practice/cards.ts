import {
  type Card,
  createEmptyCard,
  fsrs,
  type Grade,
  generatorParameters,
  Rating,
  type State,
} from "ts-fsrs";

/** What a card asks, and from which things it is made. */
export type CardKind = "name" | "find-fingering" | "read-fingering" | "rhythm" | "sign";

/** How the answer was: not known, with trouble, known, at once. */
export type CardRating = "again" | "hard" | "good" | "easy";

/** What is kept of one card of one player. Instants are ISO texts. */
export interface CardState {
  due: string;
  stability: number;
  difficulty: number;
  reps: number;
  lapses: number;
  state: "new" | "learning" | "review" | "relearning";
  learningSteps: number;
  scheduledDays: number;
  lastReview: string | null;
}

/** One answer to a card. */
export interface CardFact {
  id: string;
  at: string;
  card: string;
  rating: CardRating;
}

const GRADES: Record<CardRating, Grade> = {
  again: Rating.Again,
  hard: Rating.Hard,
  good: Rating.Good,
  easy: Rating.Easy,
};
const STATES = ["new", "learning", "review", "relearning"] as const;

/**
 * The scheduler with its published default weights and no fuzz, so that every device comes to the same day.
 * Source: FSRS 6, open-spaced-repetition, as `ts-fsrs` implements it (MIT).
 */
const scheduler = fsrs(generatorParameters({ enable_fuzz: false }));

/** A card after an answer. @param before  null for a card that was never seen */
export function reviewed(before: CardState | null, rating: CardRating, at: string): CardState {
  const card = before ? toCard(before) : createEmptyCard(new Date(at));
  return fromCard(scheduler.next(card, new Date(at), GRADES[rating]).card);
}

/** Every card that was ever answered, as it stands after all answers; the same answers in any order give the same. */
export function cardStates(facts: readonly CardFact[]): Map<string, CardState> {
  const states = new Map<string, CardState>();
  const inOrder = [...new Map(facts.map((fact) => [fact.id, fact])).values()].sort(
    (a, b) => a.at.localeCompare(b.at) || a.id.localeCompare(b.id),
  );
  for (const { card, rating, at } of inOrder)
    states.set(card, reviewed(states.get(card) ?? null, rating, at));
  return states;
}

/** New cards a day at most: two minutes are two minutes (common practice: few new things a day, no published source). */
const NEW_A_DAY = 6;

/**
 * The cards of a sitting: what is due, longest overdue first, then new ones in the order of the deck.
 * @param deck  ids of every card there could be, easiest first
 * @param most  cards at most
 */
export function cardsDue(
  deck: readonly string[],
  states: ReadonlyMap<string, CardState>,
  now: string,
  most: number,
): string[] {
  const inDeck = new Set(deck);
  const due = [...states]
    .filter(([id, { due }]) => inDeck.has(id) && due <= now)
    .sort(([, a], [, b]) => a.due.localeCompare(b.due))
    .map(([id]) => id);
  const fresh = deck.filter((id) => !states.has(id)).slice(0, NEW_A_DAY);
  return [...due, ...fresh].slice(0, most);
}

function toCard(state: CardState): Card {
  return {
    due: new Date(state.due),
    stability: state.stability,
    difficulty: state.difficulty,
    elapsed_days: 0,
    scheduled_days: state.scheduledDays,
    learning_steps: state.learningSteps,
    reps: state.reps,
    lapses: state.lapses,
    state: STATES.indexOf(state.state) as State,
    ...(state.lastReview ? { last_review: new Date(state.lastReview) } : {}),
  };
}

function fromCard(card: Card): CardState {
  return {
    due: card.due.toISOString(),
    stability: card.stability,
    difficulty: card.difficulty,
    reps: card.reps,
    lapses: card.lapses,
    state: STATES[card.state],
    learningSteps: card.learning_steps,
    scheduledDays: card.scheduled_days,
    lastReview: card.last_review?.toISOString() ?? null,
  };
}
