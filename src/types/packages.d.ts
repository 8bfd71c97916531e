declare module "verovio/wasm" {
  export default function createVerovioModule(): Promise<unknown>;
}
declare module "verovio/esm" {
  export class VerovioToolkit {
    constructor(module: unknown);
    setOptions(options: Record<string, unknown>): void;
    loadData(text: string): boolean;
    renderToSVG(page: number): string;
    renderToTimemap(): { tstamp: number; on?: string[]; off?: string[] }[];
    getMEI(): string;
    renderToMIDI(): string;
  }
}
declare module "libflacjs/dist/libflac.js" {
  const Flac: {
    isReady(): boolean;
    on(event: "ready", listener: () => void): void;
    create_libflac_encoder(
      rate: number,
      channels: number,
      bits: number,
      level: number,
      samples: number,
      verify: boolean,
    ): number;
    init_encoder_stream(encoder: number, write: (chunk: Uint8Array) => void): number;
    FLAC__stream_encoder_process_interleaved(encoder: number, samples: Int32Array, count: number): number;
    FLAC__stream_encoder_finish(encoder: number): number;
    FLAC__stream_encoder_delete(encoder: number): void;
  };
  export default Flac;
}
