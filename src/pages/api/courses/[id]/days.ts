import { OpenDay, openDay } from "../../../../services/counting";
import { endpoint, idParam } from "../../../_endpoint";

export const POST = endpoint(OpenDay, (actor, { day }, context) => openDay(actor, idParam(context), day));
