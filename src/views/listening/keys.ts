import { useSyncExternalStore } from "react";

/** Letters that stand for another than their own act, on this device: act by its usual letter. */
export type OwnKeys = Readonly<Record<string, string>>;

const OWN = "ulu-listen-own-keys";
const OFF = "ulu-listen-keys-off";
const USUAL: OwnKeys = {};

interface Kept {
  own: OwnKeys;
  off: boolean;
}

let kept: Kept | undefined;
const listeners = new Set<() => void>();

function read(): Kept {
  try {
    const own = JSON.parse(localStorage.getItem(OWN) ?? "{}") as unknown;
    const usable =
      typeof own === "object" &&
      own !== null &&
      Object.values(own).every((key) => /^[a-z]$/.test(String(key)));
    return { own: usable ? (own as OwnKeys) : USUAL, off: localStorage.getItem(OFF) !== null };
  } catch {
    return { own: USUAL, off: false };
  }
}

const now = (): Kept => {
  kept ??= read();
  return kept;
};
const NOTHING: Kept = { own: USUAL, off: false };

function keep(changed: Partial<Kept>): void {
  kept = { ...now(), ...changed };
  try {
    localStorage.setItem(OWN, JSON.stringify(kept.own));
    if (kept.off) localStorage.setItem(OFF, "yes");
    else localStorage.removeItem(OFF);
  } catch {
    // A private window forgets it.
  }
  for (const listener of listeners) listener();
}

/** Which letter does what on this device, and whether letters act at all (WCAG 2.2, 2.1.4). */
export function useOwnKeys(): Kept {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    now,
    () => NOTHING,
  );
}

export const letKeysAct = (on: boolean): void => keep({ off: !on });
export const areKeysOff = (): boolean => now().off;
export const usualKeys = (): void => keep({ own: USUAL });

/** The letter that an act has now. @param act  its usual letter */
export const keyOf = (act: string, { own }: Pick<Kept, "own"> = now()): string => own[act] ?? act;

/** Gives an act another letter; the act that had it gets this one's. */
export function changeKey(act: string, letter: string, acts: readonly string[]): void {
  if (!/^[a-z]$/.test(letter)) return;
  const before = keyOf(act);
  const other = acts.find((each) => each !== act && keyOf(each) === letter);
  keep({ own: { ...now().own, [act]: letter, ...(other ? { [other]: before } : {}) } });
}

/** The usual letter of the act that a pressed key stands for; the key itself where it is no letter, nothing for a letter that was given away. */
export function actOf(pressed: string, acts: readonly string[]): string | undefined {
  if (!/^[a-z]$/.test(pressed)) return pressed;
  return acts.find((act) => keyOf(act) === pressed);
}
