import { LINEAR_OF_CODE8, type Rgb8, encodeSrgb8 } from '../colour';

/** Finds which one or two of some colours explain a pixel best: mixed in coded or in linear light. */
export class PairMixer {
  /** Squared distance in sRGB codes of the best that was tried. */
  best = Infinity;
  private first = 0;
  private second = 0;
  private share = 1;
  private linear = false;
  private r = 0;
  private g = 0;
  private b = 0;
  private readonly codes: Float64Array;
  private readonly light: Float64Array;

  constructor(rgbs: readonly Rgb8[]) {
    this.codes = Float64Array.from(rgbs.flat());
    this.light = Float64Array.from(rgbs.flat(), (code) => LINEAR_OF_CODE8[code]!);
  }

  /** Whether the best was mixed in linear light. */
  get isLinear(): boolean {
    return this.linear;
  }

  /** Share of the first of the best, 0..1, in the light that it was mixed in. */
  get shareOfFirst(): number {
    return this.share;
  }

  begin(r: number, g: number, b: number): void {
    this.r = r;
    this.g = g;
    this.b = b;
    this.best = Infinity;
    this.first = this.second = 0;
    this.share = 1;
    this.linear = false;
  }

  tryAlone(k: number): void {
    const distance = this.residual(k, k, 1);
    if (distance >= this.best) return;
    this.best = distance;
    this.first = this.second = k;
    this.share = 1;
  }

  /** Returns whether it is the best so far. */
  tryPair(i: number, j: number): boolean {
    // No mixture of two leaves the box between them.
    if (this.beyondBox(i, j) >= this.best - 1) return false;
    const before = this.best;
    for (let space = 0; space < 2; space++) {
      const linear = space === 1;
      const t = this.project(i, j, linear);
      const rest = linear ? this.residualLight(i, j, t) : this.residual(i, j, t);
      // A mixture must explain clearly more than what was found before it.
      if (rest >= this.best - 1) continue;
      this.best = rest;
      this.first = i;
      this.second = j;
      this.share = t;
      this.linear = linear;
    }
    return this.best < before;
  }

  /**
   * @param asDots whether the share is to be that of dots, which mix in linear light, whatever light the artwork was mixed in; otherwise it is
   *   the part of an edge pixel's area.
   */
  result(out: { first: number; second: number; share: number; rest: number }, asDots = false): void {
    const share = asDots && !this.linear ? this.project(this.first, this.second, true) : this.share;
    out.first = this.first;
    out.second = this.second;
    out.share = Math.round(share * 65535);
    out.rest = 65535 - out.share;
  }

  /** Squared distance in codes from the pixel to the box that two colours span. */
  private beyondBox(i: number, j: number): number {
    const { codes } = this;
    let sum = 0;
    for (let c = 0; c < 3; c++) {
      const code = c === 0 ? this.r : c === 1 ? this.g : this.b;
      const [p, q] = [codes[i * 3 + c]!, codes[j * 3 + c]!];
      const low = p < q ? p : q;
      const high = p < q ? q : p;
      const beyond = code < low ? low - code : code > high ? code - high : 0;
      sum += beyond * beyond;
    }
    return sum;
  }

  /** Share of colour i on the line between i and j, nearest to the pixel; 0..1. */
  private project(i: number, j: number, linear: boolean): number {
    const table = linear ? this.light : this.codes;
    let dot = 0;
    let length = 0;
    for (let c = 0; c < 3; c++) {
      const code = c === 0 ? this.r : c === 1 ? this.g : this.b;
      const part = linear ? LINEAR_OF_CODE8[code]! : code;
      const d = table[i * 3 + c]! - table[j * 3 + c]!;
      dot += (part - table[j * 3 + c]!) * d;
      length += d * d;
    }
    return length > 0 ? Math.min(1, Math.max(0, dot / length)) : 1;
  }

  private residual(i: number, j: number, t: number): number {
    const mix = (c: number) => this.codes[i * 3 + c]! * t + this.codes[j * 3 + c]! * (1 - t);
    return (mix(0) - this.r) ** 2 + (mix(1) - this.g) ** 2 + (mix(2) - this.b) ** 2;
  }

  private residualLight(i: number, j: number, t: number): number {
    const mix = (c: number) => encodeSrgb8(this.light[i * 3 + c]! * t + this.light[j * 3 + c]! * (1 - t));
    return (mix(0) - this.r) ** 2 + (mix(1) - this.g) ** 2 + (mix(2) - this.b) ** 2;
  }
}
