import { SavePreferences, savePreferences } from "../../services/practice";
import { endpoint } from "../_endpoint";

export const PUT = endpoint(SavePreferences, (actor, input) => savePreferences(actor, input));
