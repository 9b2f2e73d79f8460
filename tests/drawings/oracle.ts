import { type Browser, type Page, chromium } from '@playwright/test';
import { CHROMIUM } from '../../scripts/lib/browser.mjs';

/** How much finer the independent renderer draws, smoothed. */
export const FINER = 4;

/** Debian's Chromium as an independent renderer of drawings. */
export class Oracle {
  private readonly browser: Browser;
  private page: Page | undefined;

  private constructor(browser: Browser) {
    this.browser = browser;
  }

  static async start(): Promise<Oracle> {
    const { args, ...rest } = CHROMIUM as { args: string[] };
    return new Oracle(await chromium.launch({ ...rest, args: [...args, '--force-color-profile=srgb'] }));
  }

  /** A drawing on white, `FINER` times the size: four bytes a pixel. */
  async draw(svg: string, width: number, height: number): Promise<Uint8Array> {
    const [w, h] = [width * FINER, height * FINER];
    this.page ??= await this.browser.newPage({ deviceScaleFactor: 1 });
    const codes = await this.page.evaluate(
      async ([source, across, down]) => {
        const image = new Image();
        image.src = `data:image/svg+xml;base64,${source}`;
        await image.decode();
        const canvas = new OffscreenCanvas(across, down);
        const context = canvas.getContext('2d')!;
        context.fillStyle = '#fff';
        context.fillRect(0, 0, across, down);
        context.drawImage(image, 0, 0, across, down);
        const { data } = context.getImageData(0, 0, across, down);
        let text = '';
        for (let k = 0; k < data.length; k += 32768)
          text += String.fromCharCode(...data.subarray(k, k + 32768));
        return btoa(text);
      },
      [Buffer.from(svg).toString('base64'), w, h] as const,
    );
    return new Uint8Array(Buffer.from(codes, 'base64'));
  }

  async end(): Promise<void> {
    await this.browser.close();
  }
}

export interface Agreement {
  /** Pixels whose neighbourhood is of one colour, and how many of them are of another one here. */
  readonly flat: number;
  readonly flatWrong: number;
  /** Pixels that an edge passes, and how many of them fell to the side that has less of them. */
  readonly edges: number;
  readonly wrongSide: number;
  /** How far edges lie outwards in the mean, in pixels, in the channel where that is most. */
  readonly offsetPx: number;
}

/** Codes by which renderers may differ in flat parts: each rounds where it blends. */
export const ROUNDING = 3;
/** The same of layers in layers: Chromium keeps each in 8 bits, multiplied by its opacity. */
export const LAYERED_ROUNDING = 8;

/**
 * Holds hard pixels against the same drawing, smoothed and finer.
 *
 * @param ours words of sRGB codes with straight alpha.
 * @param finer on white, `FINER` times the size.
 */
export function compare(
  ours: Uint32Array,
  finer: Uint8Array,
  width: number,
  height: number,
  rounding = ROUNDING,
): Agreement {
  let flat = 0;
  let flatWrong = 0;
  let edges = 0;
  let wrongSide = 0;
  const drift = [0, 0, 0];
  const contrast = [0, 0, 0];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const word = ours[y * width + x]!;
      const alpha = (word >>> 24) / 255;
      let isFlat = true;
      let isWrong = false;
      let isFar = false;
      for (let c = 0; c < 3; c++) {
        let low = 255;
        let high = 0;
        let sum = 0;
        for (let j = 0; j < FINER; j++) {
          const from = ((y * FINER + j) * width + x) * FINER * 4 + c;
          for (let i = from; i < from + FINER * 4; i += 4) {
            const value = finer[i]!;
            if (value < low) low = value;
            if (value > high) high = value;
            sum += value;
          }
        }
        const off = ((word >>> (8 * c)) & 255) * alpha + 255 * (1 - alpha) - sum / FINER ** 2;
        if (high - low > ROUNDING) isFlat = false;
        if (Math.abs(off) > rounding) isWrong = true;
        // A pixel of the side that has more of it is off by at most half of the contrast.
        if (Math.abs(off) > (high - low) * 0.55 + rounding) isFar = true;
        drift[c]! += off;
        contrast[c]! += high - low;
      }
      if (isFlat) {
        flat++;
        if (isWrong) flatWrong++;
      } else {
        edges++;
        if (isFar) wrongSide++;
      }
    }
  }
  const offsets = drift.map((sum, c) => (contrast[c]! > 255 * 20 ? Math.abs(sum) / contrast[c]! : 0));
  return { flat, flatWrong, edges, wrongSide, offsetPx: Math.max(...offsets) };
}
