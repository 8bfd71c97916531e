import { z } from "zod";
import { invitationFor } from "../../../services/accounts";
import { endpoint } from "../../_endpoint";

/** The token comes in the body: it never stands in a log. */
export const POST = endpoint(
  z.object({ token: z.string().min(10, "This invitation is not whole.").max(100) }),
  (_actor, { token }) => invitationFor(token),
);
