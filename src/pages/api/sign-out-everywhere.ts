import { signOutEverywhere } from "../../services/accounts";
import { read } from "../_endpoint";
import { dropSession } from "../_session";

export const POST = read(async (actor, { cookies }) => {
  await signOutEverywhere(actor);
  dropSession(cookies);
});
