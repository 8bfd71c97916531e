export { nameKey, tidyText } from "./names";
