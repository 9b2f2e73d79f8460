import { Resvg } from '@resvg/resvg-js';
import type { ArtworkNeed } from '@/core/pipeline';

/** Reads a drawing as artwork of a width in pixels, smoothed, with straight alpha. */
export function readerOf(svg: string, width: number) {
  const art = new Resvg(svg, { fitTo: { mode: 'width', value: width } }).render();
  const { pixels } = art;
  return ({ rect }: ArtworkNeed) => {
    const data = new Uint8Array(rect.width * rect.height * 4);
    for (let row = 0; row < rect.height; row++) {
      const from = ((rect.y + row) * art.width + rect.x) * 4;
      data.set(pixels.subarray(from, from + rect.width * 4), row * rect.width * 4);
    }
    // Resvg's colours are multiplied by their alpha.
    for (let i = 0; i < data.length; i += 4) {
      const alpha = data[i + 3]!;
      for (let c = 0; c < 3 && alpha > 0; c++)
        data[i + c] = Math.min(255, Math.round((data[i + c]! * 255) / alpha));
    }
    return { rect, data };
  };
}
