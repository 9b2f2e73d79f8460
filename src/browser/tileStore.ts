import { givePicture, hasPicture } from '@/core/texture';
import { type ArtworkTile, type OuterMap, PixelTile, type RgbaPlane } from '@/core/artwork';
import { type Drawing, type DrawingKernels, DrawingLevel, readStoredDrawing } from '@/core/drawing';
import { type Rect, expandRect, intersectRects } from '@/core/geometry';
import type { ArtworkNeed } from '@/core/pipeline';
import { type JobSheet, artworkOf } from '@/core/sheet';
import { RASTER_TILE, tilePixels } from '@/protocol/tiles';

interface TileGrid {
  readonly width: number;
  readonly height: number;
  /** Pixels to a row of a column's tiles. */
  stride(column: number): number;
  url(place: Place): string;
}

interface Place {
  readonly row: number;
  readonly column: number;
}

/** How far round a region artwork is fetched before it is asked for. */
const AHEAD_PX = 512;

/**
 * Decoded artwork as the server gives it out: tiles of a picture, fetched as they are needed and kept within a budget; of a drawing its stored form,
 * which regions are drawn from here.
 */
export class TileStore {
  private readonly tiles = new Map<string, ArtworkTile>();
  private readonly coming = new Map<string, Promise<ArtworkTile>>();
  private bytes = 0;
  private plane = new Uint8Array(0);
  private readonly budget: number;
  private drawing: { readonly url: string; readonly coming: Promise<Drawing> } | null = null;
  private readonly kernels: () => Promise<DrawingKernels>;
  private level: DrawingLevel | null = null;

  /**
   * @param budget bytes of decoded tiles that are kept.
   * @param kernels for drawings.
   */
  constructor(budget: number, kernels: () => Promise<DrawingKernels>) {
    this.budget = budget;
    this.kernels = kernels;
  }

  /**
   * Has the plane that a region needs, from its tiles, worked on. The plane is for the work alone: the next one lies in the same
   * memory, since planes of megabytes for every view would be freed late.
   */
  async use<T>(sheet: JobSheet, need: ArtworkNeed, work: (plane: RgbaPlane) => T): Promise<T> {
    const { rect } = need;
    if (rect.width === 0 || rect.height === 0) return work({ rect, data: new Uint8Array(0) });
    if (artworkOf(sheet).kind === 'vector') {
      const level = await this.levelOf(artworkOf(sheet).sha256, need);
      return work(level.readInto(rect, this.emptyPlane(rect), need.channels));
    }
    const grid = gridOf(sheet, need);
    const places = placesOf(rect, grid);
    const tiles = await Promise.all(places.map((place) => this.tile(grid, place)));
    const data = this.emptyPlane(rect);
    const words = new Uint32Array(data.buffer, 0, data.length >> 2);
    tiles.forEach((tile, k) => {
      const { row, column } = places[k]!;
      const at = {
        x: column * grid.width,
        y: row * grid.height,
        width: grid.stride(column),
        height: grid.height,
      };
      copyTile(tile, at, rect, words);
    });
    return work({ rect, data });
  }

  /** Four bytes for each pixel of a rectangle, all 0, where the last plane lay. */
  private emptyPlane(rect: Rect): Uint8Array<ArrayBuffer> {
    const bytes = rect.width * rect.height * 4;
    if (this.plane.length < bytes) this.plane = new Uint8Array(Math.ceil((bytes / 4) * 1.1) * 4);
    return this.plane.subarray(0, bytes).fill(0);
  }

  private async levelOf(sha256: string, need: ArtworkNeed): Promise<DrawingLevel> {
    const url = drawingUrl(sha256, need);
    if (this.drawing?.url !== url) {
      const coming = fetchDrawing(url);
      coming.catch(() => (this.drawing = null));
      this.drawing = { url, coming };
      this.level = null;
    }
    const [drawing, kernels] = await Promise.all([this.drawing.coming, this.kernels()]);
    const { levelWidth: width, levelHeight: height } = need;
    if (this.level?.width !== width || this.level.height !== height || !this.level.isOf(drawing)) {
      this.level = new DrawingLevel(drawing, width, height, kernels);
    }
    return this.level;
  }

  /**
   * Fetches what lies round a region, one tile after another, as far as it can be kept beside the region's own.
   *
   * @param isOver asked before each tile: whether something else is wanted now.
   */
  async fetchAround(sheet: JobSheet, need: ArtworkNeed, isOver: () => boolean): Promise<void> {
    const { rect } = need;
    if (rect.width === 0 || rect.height === 0 || artworkOf(sheet).kind === 'vector') return;
    const grid = gridOf(sheet, need);
    const level = { x: 0, y: 0, width: need.levelWidth, height: need.levelHeight };
    const own = placesOf(rect, grid);
    const [ownRows, ownColumns] = [
      new Set(own.map(({ row }) => row)),
      new Set(own.map(({ column }) => column)),
    ];
    const isOwn = ({ row, column }: Place) => ownRows.has(row) && ownColumns.has(column);
    const isCorner = ({ row, column }: Place) => !ownRows.has(row) && !ownColumns.has(column);
    const around = placesOf(intersectRects(expandRect(rect, AHEAD_PX), level), grid).filter(
      (place) => !isOwn(place),
    );
    // Above, below and at the sides first; the corners are the last that a move needs.
    const beside = [...around.filter((place) => !isCorner(place)), ...around.filter(isCorner)];
    let bytes = 0;
    for (const place of own) bytes += (await this.tile(grid, place)).byteLength;
    for (const place of beside) {
      if (isOver()) return;
      // What is in view must not make room for what may be.
      for (const each of own) this.touch(grid.url(each));
      const { byteLength } = await this.tile(grid, place);
      bytes += byteLength;
      if (bytes + byteLength > this.budget) return;
    }
  }

  /** A kept tile that was used last is dropped last. */
  private touch(url: string): ArtworkTile | undefined {
    const kept = this.tiles.get(url);
    if (kept) {
      this.tiles.delete(url);
      this.tiles.set(url, kept);
    }
    return kept;
  }

  private async tile(grid: TileGrid, place: Place): Promise<ArtworkTile> {
    const url = grid.url(place);
    const kept = this.touch(url);
    if (kept) return kept;
    let coming = this.coming.get(url);
    if (!coming) {
      coming = fetchTile(url, grid.stride(place.column));
      this.coming.set(url, coming);
      coming.then(
        (tile) => this.keep(url, tile),
        () => this.coming.delete(url),
      );
    }
    return coming;
  }

  private keep(url: string, tile: ArtworkTile): void {
    this.coming.delete(url);
    this.tiles.set(url, tile);
    this.bytes += tile.byteLength;
    for (const [key, { byteLength }] of this.tiles) {
      if (this.bytes <= this.budget) break;
      this.tiles.delete(key);
      this.bytes -= byteLength;
    }
  }

  async fetchOuterMap(sha256: string): Promise<OuterMap> {
    const response = await fetchArtwork(`/api/artwork/${sha256}/outer`);
    const { headers } = response;
    const cells = new Uint8Array(await unpacked(response));
    return { width: Number(headers.get('x-width')), height: Number(headers.get('x-height')), cells };
  }
}

/** Gives this thread the picture of a texture, unless it has it. */
export async function fetchTexture(sha256: string): Promise<void> {
  if (hasPicture(sha256)) return;
  givePicture(sha256, new Uint8Array(await unpacked(await fetchArtwork(`/api/textures/${sha256}`))));
}

async function fetchArtwork(url: string): Promise<Response> {
  const response = await fetch(url);
  if (!response.ok) {
    const report = (await response.json().catch(() => null)) as { message?: string } | null;
    throw new Error(report?.message ?? 'The artwork cannot be fetched.');
  }
  return response;
}

function unpacked(response: Response): Promise<ArrayBuffer> {
  return new Response(response.body!.pipeThrough(new DecompressionStream('gzip'))).arrayBuffer();
}

/** @param stride pixels to a row of the tile. */
async function fetchTile(url: string, stride: number): Promise<ArtworkTile> {
  return new PixelTile(tilePixels(new Uint8Array(await unpacked(await fetchArtwork(url)))), stride);
}

/** A browser may still keep a drawing as an earlier version made it, without the plates of its file. */
function drawingUrl(sha256: string, { channels = [] }: ArtworkNeed): string {
  return `/api/artwork/${sha256}/drawing${channels.length > 0 ? '?plates' : ''}`;
}

async function fetchDrawing(url: string): Promise<Drawing> {
  return readStoredDrawing(new Uint8Array(await unpacked(await fetchArtwork(url))));
}

function gridOf(sheet: JobSheet, need: ArtworkNeed): TileGrid {
  const base = `/api/artwork/${artworkOf(sheet).sha256}/tile`;
  return {
    width: RASTER_TILE,
    height: RASTER_TILE,
    stride: (column) => Math.min(RASTER_TILE, need.levelWidth - column * RASTER_TILE),
    url: ({ row, column }) => `${base}?level=${need.level}&row=${row}&column=${column}`,
  };
}

/** The tiles that a rectangle lies on. */
function placesOf(rect: Rect, grid: TileGrid): Place[] {
  return range(rect.y, rect.height, grid.height).flatMap((row) =>
    range(rect.x, rect.width, grid.width).map((column) => ({ row, column })),
  );
}

function range(from: number, length: number, tile: number): number[] {
  const first = Math.floor(from / tile);
  const last = Math.floor((from + length - 1) / tile);
  return Array.from({ length: last - first + 1 }, (_, k) => first + k);
}

/**
 * @param at where the tile lies.
 * @param rect where the plane lies that `words` are the pixels of.
 */
function copyTile(tile: ArtworkTile, at: Rect, rect: Rect, words: Uint32Array): void {
  const common = intersectRects(at, rect);
  for (let y = common.y; y < common.y + common.height; y++) {
    const to = (y - rect.y) * rect.width + (common.x - rect.x);
    tile.copyRow(y - at.y, common.x - at.x, common.x - at.x + common.width, words, to);
  }
}
