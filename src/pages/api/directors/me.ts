import { leaveBand } from "../../../services/accounts";
import { read } from "../../_endpoint";
import { dropSession } from "../../_session";

export const DELETE = read(async (actor, { cookies }) => {
  await leaveBand(actor);
  dropSession(cookies);
  return { left: true };
});
