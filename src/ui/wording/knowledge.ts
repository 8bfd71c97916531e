import type { Reason } from "../../core/progress";
import { STAGE_NAMES } from "./stages";

const short = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", timeZone: "UTC" });

/** "3 Oct" for a local date. */
export function shortDay(date: string): string {
  return short.format(new Date(`${date}T00:00:00Z`));
}

/** Why somebody knows a thing: "taught 3 Oct with No. 14". */
export function reasonText(reason: Reason): string {
  switch (reason.by) {
    case "stage":
      return `from ${STAGE_NAMES[reason.stage]}`;
    case "taught":
      return `taught ${shortDay(reason.on)} with ${reason.said}`;
    case "shown": {
      const takes = reason.cleanTakes === 1 ? "1 take" : `${reason.cleanTakes} takes`;
      const accepted = reason.acceptedTakes > 0 ? `, ${reason.acceptedTakes} accepted` : "";
      return `right in ${takes}${accepted}, last ${shortDay(reason.lastOn)}`;
    }
  }
}
