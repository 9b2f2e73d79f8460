import { setImmediate } from 'node:timers/promises';
import { type RenderedImage, Resvg, type ResvgRenderOptions, renderAsync } from '@resvg/resvg-js';
import { type ArtworkTile, PixelTile, type RgbaPlane, RunTile } from '@/core/artwork';
import type { Rect } from '@/core/geometry';
import { VECTOR_TILE_HEIGHT, VECTOR_TILE_WIDTH } from '@/protocol/tiles';
import { collectGarbage } from '../collectGarbage';
import { SHIPPED_FONT_FAMILY, fontFiles } from '../projectRoot';
import type { SvgArtwork } from './readSvg';

/** Vector artwork is rendered in tiles on this fixed grid, so that strips, threads and repeats give the same pixels. */
export const VECTOR_TILE = { width: VECTOR_TILE_WIDTH, height: VECTOR_TILE_HEIGHT } as const;

/** Which tile of a drawing, at a size in pixels for the whole. */
export interface TilePlace {
  readonly wholeWidth: number;
  readonly wholeHeight: number;
  readonly column: number;
  readonly row: number;
}

/** Renders a tile without antialiasing; beyond the drawing it is empty. */
export function renderSvgTile(svg: SvgArtwork, place: TilePlace): ArtworkTile {
  renders++;
  return tileOf(new Resvg(...renderingOf(svg, place)).render());
}

/** As `renderSvgTile`, on another thread. */
export async function renderSvgTileAside(svg: SvgArtwork, place: TilePlace): Promise<ArtworkTile> {
  renders++;
  return tileOf(await renderAsync(...renderingOf(svg, place)));
}

function renderingOf(svg: SvgArtwork, place: TilePlace): [string, ResvgRenderOptions] {
  const { width, height } = VECTOR_TILE;
  const source =
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" ` +
    `viewBox="${place.column * width} ${place.row * height} ${width} ${height}" shape-rendering="crispEdges" text-rendering="optimizeSpeed">` +
    // Without a clip of its own (ten times faster); tiles are cut to the drawing's box by whoever reads them.
    `<svg ${svg.rootAttributes} x="0" y="0" width="${place.wholeWidth}" height="${place.wholeHeight}" overflow="visible" ` +
    `viewBox="${svg.viewBox}" preserveAspectRatio="none">${svg.content}</svg></svg>`;
  return [
    source,
    {
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
    },
  ];
}

/** Nearly every tile is flat colours, and few of them. */
function tileOf(rendered: RenderedImage): ArtworkTile {
  const { pixels } = rendered;
  const words = new Uint32Array(pixels.buffer, pixels.byteOffset, pixels.length >> 2);
  const runs = RunTile.of(words, VECTOR_TILE.width, straightAlpha);
  if (runs) return runs;
  for (let i = 0; i < words.length; i++) words[i] = straightAlpha(words[i]!);
  return new PixelTile(words, VECTOR_TILE.width);
}

/** The renderer's colours are multiplied by alpha; artwork is straight. */
function straightAlpha(word: number): number {
  const alpha = word >>> 24;
  if (alpha === 0 || alpha === 255) return word;
  const straight = (shift: number) =>
    Math.min(255, Math.round((((word >>> shift) & 255) * 255) / alpha)) << shift;
  return ((alpha << 24) | straight(16) | straight(8) | straight(0)) >>> 0;
}

const RENDERS_BEFORE_COLLECTING = 4;
let renders = 0;

/**
 * Lets memory of finished renderings go: bitmaps live outside the collector's heap and pile up without a push. Long work
 * calls it between its steps.
 *
 * @param atMost renderings that may pile up.
 */
export async function releaseRenderings(atMost = RENDERS_BEFORE_COLLECTING): Promise<void> {
  if (renders < atMost) return;
  renders = 0;
  collectGarbage();
  await setImmediate();
}

/** Reads rectangles of a drawing at one size, keeping the tiles it touched last. */
export class VectorLevel {
  readonly width: number;
  readonly height: number;
  private readonly svg: SvgArtwork;
  private readonly tiles = new Map<number, ArtworkTile>();
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
        tile.copyRow(line, from, from + x1 - x0, out, to);
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

  private tile(column: number, row: number): ArtworkTile {
    const key = row * 65536 + column;
    let tile = this.tiles.get(key);
    if (tile) {
      this.tiles.delete(key);
    } else {
      tile = renderSvgTile(this.svg, { wholeWidth: this.width, wholeHeight: this.height, column, row });
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
