export { checkLevel, type LevelCheck } from "./level";
export { type HeardBlock, type LostSound, lostSound } from "./lost";
export { halveRate, mixToMono, type Pcm, peaks, resample } from "./pcm";
export { AudioReadError, readWav, writeWav } from "./wav";
