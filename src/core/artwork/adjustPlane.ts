import type { RgbaPlane } from './rgbaPlane';

/** How colours are changed: by their luma and how far they lie from it. */
export interface LumaMap {
  /** Luma that becomes of each whole code of luma, 0..255, 257 entries; between them it is interpolated. */
  readonly luma: Float64Array;
  /** What the distance of each channel from the luma is multiplied with; 0 leaves greys. */
  readonly saturation: number;
  /** What becomes of each code of red, green and blue behind that; left out: it stays. */
  readonly channels?: readonly [Uint8Array, Uint8Array, Uint8Array];
}

/** Weights of the coded channels: ITU-R BT.709. */
const RED = 0.2126;
const GREEN = 0.7152;
const BLUE = 0.0722;

/** A colour of sRGB codes, red in the lowest byte, as a map makes it; what is in the highest byte stays. What leaves 0..255 is cut there. */
export function adjustColour({ luma, saturation, channels }: LumaMap, colour: number): number {
  const r = colour & 255;
  const g = (colour >> 8) & 255;
  const b = (colour >> 16) & 255;
  const y = RED * r + GREEN * g + BLUE * b;
  const low = Math.floor(y);
  const changed = luma[low]! + (y - low) * (luma[low + 1]! - luma[low]!);
  // What every channel of a grey of this luma would be, rounded up from its half.
  const grey = changed - saturation * y + 0.5;
  let red = cut(grey + saturation * r);
  let green = cut(grey + saturation * g);
  let blue = cut(grey + saturation * b);
  if (channels) {
    red = channels[0][red]!;
    green = channels[1][green]!;
    blue = channels[2][blue]!;
  }
  return (red | (green << 8) | (blue << 16) | (colour & 0xff000000)) >>> 0;
}

function cut(value: number): number {
  return value <= 0 ? 0 : value >= 255 ? 255 : value | 0;
}

/** A plane with changed colours and the same opacity; the one that is given is left alone. */
export function adjustPlane({ rect, data }: RgbaPlane, map: LumaMap): RgbaPlane {
  const out = new Uint8Array(data.length);
  const from = new Uint32Array(data.buffer, data.byteOffset, data.length / 4);
  const to = new Uint32Array(out.buffer);
  let [before, after] = [0, 0];
  for (let i = 0; i < from.length; i++) {
    const colour = from[i]!;
    if (i === 0 || colour !== before) {
      before = colour;
      after = adjustColour(map, colour);
    }
    to[i] = after;
  }
  return { rect, data: out };
}
