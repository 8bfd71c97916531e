export * from "./pcm";
export * from "./wav";
