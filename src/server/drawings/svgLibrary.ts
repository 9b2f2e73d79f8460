import { readFileSync } from 'node:fs';
import path from 'node:path';
import { Resvg, initWasm } from '@resvg/resvg-wasm';
import type { DrawingPicture } from '@/core/drawing';
import { SHIPPED_FONT_FAMILY, fontFiles, projectRoot } from '../projectRoot';
import { capMemory } from './wasmMemory';

/** 640 MB: what it wants beyond that is too much for a drawing. */
const MOST_PAGES = 10_240;

let ready: Promise<void> | undefined;

/** Loads the library, once in a thread; its memory is bounded, and it can reach neither files nor network. */
export function loadSvgLibrary(): Promise<void> {
  ready ??= initWasm(
    new WebAssembly.Module(
      capMemory(
        readFileSync(path.join(projectRoot(), 'node_modules/@resvg/resvg-wasm/index_bg.wasm')),
        MOST_PAGES,
      ),
    ),
  );
  return ready;
}

function options(hasText: boolean) {
  return {
    font: {
      fontBuffers: hasText ? fontFiles().map((file) => new Uint8Array(readFileSync(file))) : [],
      defaultFontFamily: SHIPPED_FONT_FAMILY,
      sansSerifFamily: SHIPPED_FONT_FAMILY,
      serifFamily: SHIPPED_FONT_FAMILY,
      loadSystemFonts: false,
    },
    logLevel: 'off' as const,
  };
}

/** A drawing with everything resolved: styles, units, uses, markers, text as outlines. */
export function simplifySvg(source: string, hasText: boolean): string {
  const drawing = new Resvg(source, options(hasText));
  try {
    return drawing.toString();
  } finally {
    drawing.free();
  }
}

/** Renders a drawing, smoothed, at its own size or so many pixels wide; straight alpha. */
export function renderSvg(source: string, hasText = false, widthPx?: number): DrawingPicture {
  const fitTo = widthPx === undefined ? undefined : ({ mode: 'width', value: widthPx } as const);
  const drawing = new Resvg(source, { ...options(hasText), ...(fitTo && { fitTo }) });
  try {
    const rendered = drawing.render();
    const { width, height } = rendered;
    const data = new Uint8Array(rendered.pixels);
    rendered.free();
    for (let i = 0; i < data.length; i += 4) {
      const alpha = data[i + 3]!;
      if (alpha === 0 || alpha === 255) continue;
      for (let c = i; c < i + 3; c++) data[c] = Math.min(255, Math.round((data[c]! * 255) / alpha));
    }
    return { width, height, data };
  } finally {
    drawing.free();
  }
}
