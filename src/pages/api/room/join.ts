import { JoinRoom, joinRoom } from "../../../services/room";
import { endpoint } from "../../_endpoint";
import { keepLeave } from "../../_session";

/** A phone joins a lesson by its code. */
export const POST = endpoint(JoinRoom, async (_actor, { code }, { cookies }) => {
  const { roomId, ...leave } = await joinRoom(code);
  keepLeave(cookies, leave);
  return { roomId };
});
