import { Recover, recover } from "../../../services/accounts";
import { endpoint } from "../../_endpoint";

export const POST = endpoint(Recover, async (_actor, input) => {
  await recover(input);
  return { recovered: true };
});
