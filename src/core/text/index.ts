export { editDistance } from "./distance";
export { nameKey, tidyText } from "./names";
