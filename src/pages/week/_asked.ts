import { isId } from "../_id";

/** The day and group an address of the week asks for; what is no day or no id counts as not asked. */
export function askedWeek(url: URL): { of: string | null; groupId: string | null } {
  const of = url.searchParams.get("of");
  const groupId = url.searchParams.get("group");
  return {
    of: of && /^\d{4}-\d\d-\d\d$/.test(of) && !Number.isNaN(Date.parse(of)) ? of : null,
    groupId: groupId && isId(groupId) ? groupId : null,
  };
}
