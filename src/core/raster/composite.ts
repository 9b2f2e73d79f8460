/** One ink layer over a plane of linear light. */
export interface CompositeArguments {
  /** Linear light, three planes one after another, each `count` long; changed in place. */
  readonly light: Float32Array;
  readonly count: number;
  /** 0 = out, 255 = in. */
  readonly shape: Uint8Array;
  /** 0..65535, the coverage where the shape is in; null is solid. */
  readonly tone: Uint16Array | null;
  /** Linear light of the full ink. */
  readonly colour: readonly [number, number, number];
  readonly opacity: number;
}

const f = Math.fround;

/** Coverage 0..1 of one pixel. */
export function coverageFromShapeAndTone(shape: number, tone: number): number {
  return f(f(shape * tone) * f(1 / (255 * 65535)));
}

/**
 * Prints one ink over what is there, by area: x ← x + a·(o·C + (1 − o)·x·C − x), in single precision in
 * exactly this order, so that the compiled form gives the same bits.
 */
export function compositeInk(args: CompositeArguments): void {
  const { light, count, shape, tone } = args;
  for (let channel = 0; channel < 3; channel++) {
    const opaque = f(args.opacity * args.colour[channel]!);
    const filter = f((1 - args.opacity) * args.colour[channel]!);
    const base = channel * count;
    for (let i = 0; i < count; i++) {
      const s = shape[i]!;
      if (s === 0) continue;
      const a = coverageFromShapeAndTone(s, tone ? tone[i]! : 65535);
      const x = light[base + i]!;
      light[base + i] = f(x + f(a * f(f(opaque + f(filter * x)) - x)));
    }
  }
}
