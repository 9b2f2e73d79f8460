import { setImmediate } from 'node:timers/promises';
import { Resvg } from '@resvg/resvg-js';
import type { RgbaPlane } from '@/core/artwork';
import type { Rect } from '@/core/geometry';
import { VECTOR_TILE_HEIGHT, VECTOR_TILE_WIDTH } from '@/protocol/tiles';
import { collectGarbage } from '../collectGarbage';
import { SHIPPED_FONT_FAMILY, fontFiles } from '../projectRoot';
import type { SvgArtwork } from './readSvg';
import { RunTile } from './runTile';

/** Vector artwork is rendered in tiles on this fixed grid, so that strips, threads and repeats give the same pixels. */
export const VECTOR_TILE = { width: VECTOR_TILE_WIDTH, height: VECTOR_TILE_HEIGHT } as const;

/**
 * Renders one tile of a drawing at a size in pixels for the whole, without antialiasing.
 * Straight alpha; beyond the drawing the tile is empty.
 */
export function renderSvgTile(
  svg: SvgArtwork,
  wholeWidth: number,
  wholeHeight: number,
  column: number,
  row: number,
): Uint8Array {
  renders++;
  const { width, height } = VECTOR_TILE;
  const source =
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" ` +
    `viewBox="${column * width} ${row * height} ${width} ${height}" shape-rendering="crispEdges" text-rendering="optimizeSpeed">` +
    // Without a clip of its own (ten times faster); tiles are cut to the drawing's box by whoever reads them.
    `<svg ${svg.rootAttributes} x="0" y="0" width="${wholeWidth}" height="${wholeHeight}" overflow="visible" ` +
    `viewBox="${svg.viewBox}" preserveAspectRatio="none">${svg.content}</svg></svg>`;
  const rendered = new Resvg(source, {
    shapeRendering: 0,
    textRendering: 0,
    font: {
      loadSystemFonts: false,
      fontFiles: svg.hasText ? fontFiles() : [],
      defaultFontFamily: SHIPPED_FONT_FAMILY,
      sansSerifFamily: SHIPPED_FONT_FAMILY,
      serifFamily: SHIPPED_FONT_FAMILY,
    },
    logLevel: 'off',
  }).render();
  return straightAlpha(rendered.pixels);
}

/** The renderer's colours are multiplied by alpha; artwork is straight. Nearly every pixel is opaque or empty. */
function straightAlpha(pixels: Uint8Array): Uint8Array {
  for (let i = 3; i < pixels.length; i += 4) {
    const alpha = pixels[i]!;
    if (alpha === 0 || alpha === 255) continue;
    for (let c = i - 3; c < i; c++) pixels[c] = Math.min(255, Math.round((pixels[c]! * 255) / alpha));
  }
  return pixels;
}

const RENDERS_BEFORE_COLLECTING = 4;
let renders = 0;

/**
 * Lets memory of finished renderings go: bitmaps live outside the collector's heap and pile up without a push. Long work
 * calls it between its steps.
 */
export async function releaseRenderings(): Promise<void> {
  if (renders < RENDERS_BEFORE_COLLECTING) return;
  renders = 0;
  collectGarbage();
  await setImmediate();
}

/** Reads rectangles of a drawing at one size, keeping the tiles it touched last. */
export class VectorLevel {
  readonly width: number;
  readonly height: number;
  private readonly svg: SvgArtwork;
  private readonly tiles = new Map<number, RunTile | Uint32Array>();
  private readonly keep: number;

  constructor(svg: SvgArtwork, width: number, height: number) {
    this.svg = svg;
    this.width = width;
    this.height = height;
    // Three rows of tiles: a strip of a film stands on one or two, with its margins on one more.
    this.keep = 3 * Math.ceil(width / VECTOR_TILE.width);
  }

  /** The rectangle must lie inside the level. */
  read(rect: Rect): RgbaPlane {
    return this.readInto(rect, new Uint8Array(rect.width * rect.height * 4));
  }

  /** As `read`, into four bytes for each pixel. */
  readInto(rect: Rect, data: Uint8Array): RgbaPlane {
    const out = new Uint32Array(data.buffer, data.byteOffset, data.length >> 2);
    const { width: tileWidth, height: tileHeight } = VECTOR_TILE;
    for (const { column, row } of tilesUnder(rect)) {
      const tile = this.tile(column, row);
      const x0 = Math.max(rect.x, column * tileWidth);
      const x1 = Math.min(rect.x + rect.width, (column + 1) * tileWidth);
      const y0 = Math.max(rect.y, row * tileHeight);
      const y1 = Math.min(rect.y + rect.height, (row + 1) * tileHeight);
      for (let y = y0; y < y1; y++) {
        const to = (y - rect.y) * rect.width + (x0 - rect.x);
        const from = x0 - column * tileWidth;
        const line = y - row * tileHeight;
        if (tile instanceof RunTile) tile.copyRow(line, from, from + x1 - x0, out, to);
        else out.set(tile.subarray(line * tileWidth + from, line * tileWidth + from + x1 - x0), to);
      }
    }
    return { rect, data };
  }

  /** Renders the tiles of a rectangle; what the renderer leaves behind is let go in between. */
  async prepare(rect: Rect): Promise<void> {
    for (const { column, row } of tilesUnder(rect)) {
      this.tile(column, row);
      await releaseRenderings();
    }
  }

  private tile(column: number, row: number): RunTile | Uint32Array {
    const key = row * 65536 + column;
    let tile = this.tiles.get(key);
    if (tile) {
      this.tiles.delete(key);
    } else {
      const pixels = renderSvgTile(this.svg, this.width, this.height, column, row);
      tile =
        RunTile.of(pixels, VECTOR_TILE.width) ??
        new Uint32Array(pixels.buffer, pixels.byteOffset, pixels.length >> 2);
    }
    this.tiles.set(key, tile);
    if (this.tiles.size > this.keep) this.tiles.delete(this.tiles.keys().next().value!);
    return tile;
  }
}

function* tilesUnder(rect: Rect): Generator<{ column: number; row: number }> {
  const { width, height } = VECTOR_TILE;
  const lastColumn = Math.floor((rect.x + rect.width - 1) / width);
  const lastRow = Math.floor((rect.y + rect.height - 1) / height);
  for (let row = Math.floor(rect.y / height); row <= lastRow; row++) {
    for (let column = Math.floor(rect.x / width); column <= lastColumn; column++) yield { column, row };
  }
}
