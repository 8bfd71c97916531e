export * from "./difference";
export * from "./events";
export * from "./mixer";
export * from "./naming";
export * from "./practice";
export * from "./sounds";
