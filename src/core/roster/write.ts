import Papa from "papaparse";
import { instrumentById } from "../music";
import type { PresentPlayer } from "./plan";

/**
 * The band as a list that spreadsheets open and `readRoster` reads again: UTF-8 with its mark, commas, a heading. Cells that a
 * spreadsheet would run as a formula are written as text.
 */
export function writeRoster(players: readonly PresentPlayer[]): string {
  const rows = players.map((player) => ({
    Name: player.name,
    Called: player.calledName,
    Instruments: player.instruments.map((id) => instrumentById(id).name).join(" and "),
    Build: player.instruments
      .flatMap((id) => instrumentById(id).variants?.find((each) => each.id === player.builds[id])?.name ?? [])
      .join(" and "),
    Part: player.part ?? "",
    Stage: player.stage.replaceAll("-", " "),
    Groups: player.groups.join("; "),
    Kit: player.kit,
  }));
  const columns = ["Name", "Called", "Instruments", "Build", "Part", "Stage", "Groups", "Kit"];
  return `\ufeff${Papa.unparse(rows, { columns, escapeFormulae: true })}\r\n`;
}
