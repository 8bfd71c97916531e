import type { Assessment, TakeStatus } from "./types";

/** Raised whenever a change can alter a verdict; stored with every assessment. */
export const ENGINE_VERSION = "1.15.0";

/** An answer that says nothing but why, and what every answer begins from. */
export function unassessed(status: TakeStatus): Assessment {
  return {
    engineVersion: ENGINE_VERSION,
    take: { status, tempoBpm: null, driftPercent: null, tuningCents: null, flags: [] },
    notes: [],
    extras: [],
    breaks: [],
    longTone: null,
  };
}
