declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    transform(out: number[], data: number[]): void;
    toComplexArray(input: ArrayLike<number>): number[];
  }
}
