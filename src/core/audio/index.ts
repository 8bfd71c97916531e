export { checkLevel, type LevelCheck } from "./level";
export { type HeardBlock, joinBlocks, type LostSound, lostSound } from "./lost";
export { halveRate, mixToMono, type Pcm, peaks, resample } from "./pcm";
export {
  append,
  type Growing,
  makeHalver,
  makeHighPass,
  makeResampler,
  makeRoom,
  type Stage,
} from "./stream";
export { AudioReadError, readWav, writeWav } from "./wav";
