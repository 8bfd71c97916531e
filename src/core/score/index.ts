export * from "./derive";
export * from "./fraction";
export * from "./model";
export * from "./musicxml-read";
export * from "./musicxml-write";
export * from "./playout";
export * from "./timeline";
export * from "./vocabulary";
export { ScoreReadError } from "./xml-tree";
