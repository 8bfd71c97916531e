import { SaveSettings, saveSettings } from "../../../services/settings";
import { endpoint } from "../../_endpoint";

export const PUT = endpoint(SaveSettings, async (actor, input) => {
  await saveSettings(actor, input);
  return { saved: true };
});
