import { OpenBand, openDirector } from "../../../services/accounts";
import { openBand } from "../../../services/band";
import { endpoint } from "../../_endpoint";
import { keepSession } from "../../_session";

/** Makes a band by an invitation code; its director is signed in. */
export const POST = endpoint(OpenBand, async (_actor, input, { cookies }) => {
  const { codes, ...owner } = await openBand(input);
  keepSession(cookies, await openDirector(owner));
  return { codes };
});
