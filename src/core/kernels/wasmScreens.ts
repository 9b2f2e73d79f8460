import { type ScreenArguments, tilePosition } from '../screening';
import type { KernelMemory } from './kernelMemory';
import type { Kernels } from './kernels';
import { wasmScreenLayers } from './wasmLayers';

/** Screens on a compiled module. */
export function wasmScreens(memory: KernelMemory): Pick<Kernels, 'screenStrip' | 'screenLayers'> {
  const { kernels } = memory;

  const screenStrip = (args: ScreenArguments): void => {
    const { shape, tone, width, rows, tile, out } = args;
    const taken = (tone && args.taken) ?? null;
    const [tileAt] = tone ? (memory.loadTiles([tile.thresholds]) as [number]) : [0];
    const count = width * rows;
    const [shapeAt, toneAt, takenAt, outAt] = memory.place(
      count,
      tone ? count * 2 : 0,
      taken ? count * 2 : 0,
      count / 8,
    ) as [number, number, number, number];
    memory.bytes(shapeAt, count).set(shape);
    if (tone) new Uint16Array(memory.buffer, toneAt, count).set(tone);
    if (taken) new Uint16Array(memory.buffer, takenAt, count).set(taken);
    const longest = tile.wrap & ~7;
    for (let row = 0; row < rows; row++) {
      const y = args.originY + row;
      for (let x = 0; x < width; x += longest) {
        const at = row * width + x;
        const thresholds = tone ? tileAt + tilePosition(tile, args.originX + x, y) * 2 : 0;
        const pixels = Math.min(longest, width - x);
        const to = outAt + at / 8;
        if (taken) {
          kernels.screenStack(shapeAt + at, toneAt + at * 2, takenAt + at * 2, thresholds, pixels, to);
        } else kernels.screenStrip(shapeAt + at, tone ? toneAt + at * 2 : 0, thresholds, pixels, to);
      }
    }
    out.set(memory.bytes(outAt, count / 8));
    taken?.set(new Uint16Array(memory.buffer, takenAt, count));
  };

  return { screenStrip, screenLayers: wasmScreenLayers(memory) };
}
