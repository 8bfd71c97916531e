export * from "./block";
export * from "./build";
export * from "./measures";
export * from "./readiness";
export * from "./routine";
export type { PlayerKind } from "./segment";
export { type SlurPair, slurPairs } from "./slurs";
export * from "./templates";
