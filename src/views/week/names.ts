import type { RibbonView } from "../../services/week/schema";

export function groupName(view: RibbonView, groupId: string): string {
  return view.groups.find(({ id }) => id === groupId)?.name ?? "";
}

export function dayName(view: RibbonView, date: string): string {
  return view.days.find((day) => day.date === date)?.label ?? date;
}

export function playerName(view: RibbonView, groupId: string, playerId: string): string {
  const members = view.groups.find(({ id }) => id === groupId)?.members ?? [];
  return members.find(({ id }) => id === playerId)?.name ?? "one player";
}
