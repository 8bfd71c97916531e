import { keyOf, useOwnKeys } from "./keys";

/** The key of an act as it is on this device. @param of  its usual letter */
export function Key({ of }: { of: string }) {
  const own = useOwnKeys();
  return <kbd className="key">{keyOf(of.toLowerCase(), own).toUpperCase()}</kbd>;
}
