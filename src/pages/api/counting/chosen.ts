import { ChooseSystem, chooseSystem } from "../../../services/counting";
import { endpoint } from "../../_endpoint";

export const PUT = endpoint(ChooseSystem, (actor, { system }) => chooseSystem(actor, system));
