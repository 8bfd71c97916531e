import { SaveSettings, saveSettings } from "../../../services/settings";
import { endpoint } from "../../_endpoint";

export const PUT = endpoint(SaveSettings, saveSettings);
