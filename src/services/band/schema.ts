import { z } from "zod";
import { INSTRUMENTS, STAGES, type Stage } from "../../core/music";
import { tidied } from "../tidy";

const instrumentIds = INSTRUMENTS.map((instrument) => instrument.id) as [string, ...string[]];

export const AddPlayer = z.object({
  name: tidied(120, "A name has at most 120 letters.", "Type the player's name."),
  instruments: z
    .array(z.enum(instrumentIds, { error: "Choose an instrument." }))
    .min(1, "Choose an instrument.")
    .max(3, "A player has at most three instruments."),
  stage: z.enum(STAGES, {
    error: "Choose how far the player is.",
  }),
  groupIds: z.array(z.uuid()).max(20).default([]),
});

export const AddGroup = z.object({
  name: tidied(80, "A group's name has at most 80 letters.", "Type the group's name."),
});

/** Which build of an instrument a player has; null is the usual one. */
export const SetBuild = z.object({ variant: z.string().max(24).nullable() });

export interface PlayerRow {
  id: string;
  name: string;
  instruments: string[];
  /** Build by instrument id, where it is not the usual one. */
  builds: Record<string, string>;
  groups: string[];
  stage: Stage;
  hasCard: boolean;
}

export interface BandOverview {
  name: string;
  town: string;
  classCode: string;
  groups: { id: string; name: string; players: number; instruments: string[] }[];
  players: PlayerRow[];
}
