export * from "./events";
export * from "./naming";
export * from "./practice";
export * from "./render";
