import { hasRoomFor } from "../server/room";
import { ServiceError } from "./actor";

/** Said before anything is half-written. @throws ServiceError when the disk is nearly full */
export async function needRoom(bytes: number): Promise<void> {
  if (!(await hasRoomFor(bytes)))
    throw new ServiceError(
      "no-room",
      "The bench has no room left for recordings. Nothing was lost: what you recorded stays on this device. Whoever runs the server has to make room.",
    );
}
