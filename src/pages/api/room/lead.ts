import { enterPass, JoinRoom } from "../../../services/room";
import { endpoint } from "../../_endpoint";
import { keepLeave } from "../../_session";

/** Somebody who stands in shows the code that was handed over. */
export const POST = endpoint(JoinRoom, async (_actor, { code }, { cookies }) => {
  keepLeave(cookies, await enterPass(code));
  return {};
});
