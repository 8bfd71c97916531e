import { hash, verify } from "@node-rs/argon2";

/** Argon2id, 19 MiB, two passes: the library's default algorithm with OWASP's second recommended setting (2024). */
const ARGON = { memoryCost: 19456, timeCost: 2, parallelism: 1 };

/** Hashes at once: the pool of four threads also reads files for everybody, so half of it stays free. */
const AT_ONCE = 2;
/** So many may wait; about two seconds of hashing. Known devices have a place of their own. */
const MOST_WAITING = 60;
const MOST_WAITING_KNOWN = 120;

/** More hashing was asked for than the server does at once: come back in a moment. */
export class HashingBusy extends Error {}

interface Turn {
  start: () => void;
}
const waiting: { known: Turn[]; strangers: Turn[] } = { known: [], strangers: [] };
let running = 0;

/** @param known  a device on which this account has signed in before: it goes first */
async function inTurn<T>(known: boolean, work: () => Promise<T>): Promise<T> {
  if (running >= AT_ONCE) {
    const line = known ? waiting.known : waiting.strangers;
    if (line.length >= (known ? MOST_WAITING_KNOWN : MOST_WAITING)) throw new HashingBusy();
    await new Promise<void>((start) => line.push({ start }));
  } else running++;
  try {
    return await work();
  } finally {
    const next = waiting.known.shift() ?? waiting.strangers.shift();
    if (next) next.start();
    else running--;
  }
}

/** Hashes a password or card; bounded like every other hashing. @throws HashingBusy */
export function hashSecret(secret: string): Promise<string> {
  return inTurn(true, () => hash(secret, ARGON));
}

let decoy: Promise<string> | undefined;

/**
 * Whether a secret fits; takes the same time when there is nothing it could fit.
 * @throws HashingBusy
 */
export async function secretFits(stored: string | null, secret: string, known: boolean): Promise<boolean> {
  const against = stored ?? (await (decoy ??= hash("nobody", ARGON)));
  const right = await inTurn(known, () => verify(against, secret));
  return right && stored !== null;
}
