import { useEffect, useState } from "react";

/**
 * Whether the page's script is at work. A form drawn by the server stays disabled until then: an early press would
 * otherwise be lost, or send the form the old way.
 */
export function useReady(): boolean {
  const [ready, setReady] = useState(false);
  useEffect(() => setReady(true), []);
  return ready;
}
