export * from "./events";
export * from "./render";
