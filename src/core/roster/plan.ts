import type { Stage } from "../music";
import type { PartVoice } from "../score";
import { editDistance, nameKey } from "../text";
import type { RosterRow } from "./read";

/** A player who is in the band already, as far as a list can tell of them. */
export interface PresentPlayer {
  id: string;
  name: string;
  calledName: string;
  instruments: string[];
  builds: Record<string, string>;
  part: PartVoice | null;
  stage: Stage;
  /** Names of the groups they are in. */
  groups: string[];
  kit: string;
  left: boolean;
}

export type RosterField = "instruments" | "build" | "part" | "stage" | "groups" | "kit" | "called" | "back";

/** What a row of a list would do. */
export type Act =
  | { act: "add" }
  /** The player is here, and nothing changes. */
  | { act: "same"; playerId: string }
  | { act: "change"; playerId: string; fields: RosterField[] }
  /** Nearly the name of somebody here: a person says who it is. */
  | { act: "ask"; playerId: string; likeName: string }
  /** The same name and instruments as an earlier line. */
  | { act: "double"; ofLine: number }
  /** Cannot be used as it stands. */
  | { act: "unusable" };

export type PlannedRow = RosterRow & Act;

/** Names so near are shown as a possible misspelling. */
const LETTERS_WRONG = 2;
const SHORTEST_TO_COMPARE = 6;

/**
 * What importing a list would do, row by row; nothing is done. A player is known again by the name as it is compared at
 * sign-in; of two with one name the one with the same instrument is meant. The same list again changes nothing.
 */
export function planRoster(rows: readonly RosterRow[], players: readonly PresentPlayer[]): PlannedRow[] {
  const acts = new Map<RosterRow, Act>();
  const taken = new Set<string>();
  const unusable = (row: RosterRow) =>
    row.problems.some(({ kind }) => ["no-name", "name-too-long", "too-many-instruments"].includes(kind));
  const open = rows.filter((row) => {
    if (unusable(row)) acts.set(row, { act: "unusable" });
    return !unusable(row);
  });
  const seen = new Map<string, number>();
  for (const row of open) {
    const who = `${nameKey(row.name)}/${[...row.instruments].sort().join("+")}`;
    const before = seen.get(who);
    if (before !== undefined) acts.set(row, { act: "double", ofLine: before });
    else seen.set(who, row.line);
  }
  const claim = (row: RosterRow, player: PresentPlayer) => {
    taken.add(player.id);
    const fields = changedFields(row, player);
    acts.set(
      row,
      fields.length > 0
        ? { act: "change", playerId: player.id, fields }
        : { act: "same", playerId: player.id },
    );
  };
  // First those whose instrument fits, then the others of one name in their order.
  for (const fits of [true, false])
    for (const row of open) {
      if (acts.has(row)) continue;
      const player = players.find(
        (each) =>
          !taken.has(each.id) &&
          nameKey(each.name) === nameKey(row.name) &&
          (!fits || each.instruments.some((id) => row.instruments.includes(id))),
      );
      if (player) claim(row, player);
    }
  for (const row of open) {
    if (acts.has(row)) continue;
    const like = likeName(row.name, players, taken);
    if (like) acts.set(row, { act: "ask", playerId: like.id, likeName: like.name });
    else acts.set(row, row.instruments.length === 0 ? { act: "unusable" } : { act: "add" });
  }
  return rows.map((row) => ({ ...row, ...acts.get(row)! }));
}

/** Players here that no row of the list is about. */
export function notInList(
  planned: readonly PlannedRow[],
  players: readonly PresentPlayer[],
): PresentPlayer[] {
  const met = new Set(planned.flatMap((row) => ("playerId" in row ? [row.playerId] : [])));
  return players.filter((player) => !player.left && !met.has(player.id));
}

function likeName(
  name: string,
  players: readonly PresentPlayer[],
  taken: ReadonlySet<string>,
): PresentPlayer | undefined {
  const key = nameKey(name);
  if (key.length < SHORTEST_TO_COMPARE) return undefined;
  return players.find(
    (player) =>
      !taken.has(player.id) && editDistance(key, nameKey(player.name), LETTERS_WRONG + 1) <= LETTERS_WRONG,
  );
}

/** What a row says otherwise than the band. What it does not say changes nothing. */
export function changedFields(row: RosterRow, player: PresentPlayer): RosterField[] {
  const fields: RosterField[] = [];
  const set = (list: readonly string[]) => [...list].sort().join("\n");
  if (player.left) fields.push("back");
  if (row.instruments.length > 0 && set(row.instruments) !== set(player.instruments))
    fields.push("instruments");
  if (Object.entries(row.builds).some(([id, build]) => player.builds[id] !== build)) fields.push("build");
  if (row.part !== undefined && row.part !== player.part) fields.push("part");
  if (row.stage !== undefined && row.stage !== player.stage) fields.push("stage");
  if (row.calledName !== undefined && row.calledName !== player.calledName) fields.push("called");
  if (row.kit !== undefined && row.kit !== player.kit) fields.push("kit");
  if (row.groups?.some((name) => !player.groups.some((own) => nameKey(own) === nameKey(name))))
    fields.push("groups");
  return fields;
}
