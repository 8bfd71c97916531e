import { hash, verify } from "@node-rs/argon2";
import { inTurns } from "./turns";

/** Argon2id, 19 MiB, two passes: the library's default algorithm with OWASP's second recommended setting (2024). */
const ARGON = { memoryCost: 19456, timeCost: 2, parallelism: 1 };

/** Hashes at once: the pool of four threads also reads files for everybody, so half of it stays free. */
const AT_ONCE = 2;
/** Lines: a device on which this account has signed in before goes first, then strangers; about two seconds of hashing. */
const [KNOWN, STRANGERS] = [0, 1];
const inTurn = inTurns(AT_ONCE, [120, 60]);

/** Hashes a password or card; bounded like every other hashing. @throws LineFull */
export function hashSecret(secret: string): Promise<string> {
  return inTurn(() => hash(secret, ARGON), KNOWN);
}

let decoy: Promise<string> | undefined;

/**
 * Whether a secret fits; takes the same time when there is nothing it could fit.
 * @throws LineFull
 */
export async function secretFits(stored: string | null, secret: string, known: boolean): Promise<boolean> {
  const against = stored ?? (await (decoy ??= hash("nobody", ARGON)));
  const right = await inTurn(() => verify(against, secret), known ? KNOWN : STRANGERS);
  return right && stored !== null;
}
