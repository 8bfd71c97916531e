declare module "fft.js" {
  /** Radix-4 FFT of a fixed power-of-two size; complex arrays are interleaved re, im. */
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    completeSpectrum(spectrum: { [i: number]: number }): void;
    transform(out: { [i: number]: number }, input: ArrayLike<number>): void;
    inverseTransform(out: { [i: number]: number }, input: ArrayLike<number>): void;
    realTransform(out: ArrayLike<number> & { [i: number]: number }, input: ArrayLike<number>): void;
  }
}
