export * from "./fingerings";
export * from "./instruments";
export * from "./key";
export * from "./pitch";
