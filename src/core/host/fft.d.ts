/** The part of fft.js that is used here: it comes without types. */
declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    transform(out: number[] | Float64Array, data: ArrayLike<number>): void;
    realTransform(out: number[] | Float64Array, data: ArrayLike<number>): void;
    inverseTransform(out: number[] | Float64Array, data: ArrayLike<number>): void;
  }
}
