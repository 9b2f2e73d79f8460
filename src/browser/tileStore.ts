import type { OuterMap, RgbaPlane } from '@/core/artwork';
import { type Rect, intersectRects } from '@/core/geometry';
import type { ArtworkNeed } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import { RASTER_TILE, VECTOR_TILE_HEIGHT, VECTOR_TILE_WIDTH } from '@/protocol/tiles';

interface TileGrid {
  readonly width: number;
  readonly height: number;
  url(row: number, column: number): string;
}

/** Decoded artwork as the server keeps it: tiles, fetched as they are needed and kept within a budget. */
export class TileStore {
  private readonly tiles = new Map<string, Uint8Array>();
  private readonly coming = new Map<string, Promise<Uint8Array>>();
  private bytes = 0;
  private plane = new Uint8Array(0);
  private readonly budget: number;

  /** @param budget bytes of decoded tiles that are kept. */
  constructor(budget: number) {
    this.budget = budget;
  }

  /**
   * Has the plane that a region needs, from its tiles, worked on. The plane is for the work alone: the next one lies in the same
   * memory, since planes of megabytes for every view would be freed late.
   */
  async use<T>(sheet: JobSheet, need: ArtworkNeed, work: (plane: RgbaPlane) => T): Promise<T> {
    const { rect } = need;
    if (rect.width === 0 || rect.height === 0) return work({ rect, data: new Uint8Array(0) });
    const grid = gridOf(sheet, need);
    const places = placesOf(rect, grid);
    const tiles = await Promise.all(places.map(({ row, column }) => this.tile(grid.url(row, column))));
    const bytes = rect.width * rect.height * 4;
    if (this.plane.length < bytes) this.plane = new Uint8Array(Math.ceil(bytes * 1.1));
    const data = this.plane.subarray(0, bytes);
    // Tiles cover the plane but for what lies beyond the artwork.
    data.fill(0);
    tiles.forEach((tile, k) => {
      const { row, column } = places[k]!;
      const full = sheet.artwork.kind === 'vector';
      const stride = full ? grid.width : Math.min(grid.width, need.levelWidth - column * grid.width);
      copyTile(tile, stride, column * grid.width, row * grid.height, grid.height, rect, data);
    });
    return work({ rect, data });
  }

  /**
   * Fetches what lies round a region, one tile after another, as far as it can be kept beside the region's own.
   *
   * @param isOver asked before each tile: whether something else is wanted now.
   */
  async fetchAround(sheet: JobSheet, need: ArtworkNeed, isOver: () => boolean): Promise<void> {
    const { rect } = need;
    if (rect.width === 0 || rect.height === 0) return;
    const grid = gridOf(sheet, need);
    const own = placesOf(rect, grid).map(({ row, column }) => grid.url(row, column));
    const around = {
      x: rect.x - grid.width,
      y: rect.y - grid.height,
      width: rect.width + 2 * grid.width,
      height: rect.height + 2 * grid.height,
    };
    const level = { x: 0, y: 0, width: need.levelWidth, height: need.levelHeight };
    const inRows = new Set(range(rect.y, rect.height, grid.height));
    const inColumns = new Set(range(rect.x, rect.width, grid.width));
    const places = placesOf(intersectRects(around, level), grid);
    // Above, below and at the sides first; the corners are the last that a move needs.
    const beside = [false, true]
      .flatMap((atCorner) =>
        places.filter(({ row, column }) => (!inRows.has(row) && !inColumns.has(column)) === atCorner),
      )
      .map(({ row, column }) => grid.url(row, column))
      .filter((url) => !own.includes(url));
    const most = Math.floor(this.budget / (grid.width * grid.height * 4)) - own.length;
    for (const url of beside.slice(0, Math.max(0, most))) {
      if (isOver()) return;
      // What is in view must not make room for what may be.
      for (const each of own) this.touch(each);
      await this.tile(url);
    }
  }

  /** A kept tile that was used last is dropped last. */
  private touch(url: string): Uint8Array | undefined {
    const kept = this.tiles.get(url);
    if (kept) {
      this.tiles.delete(url);
      this.tiles.set(url, kept);
    }
    return kept;
  }

  private async tile(url: string): Promise<Uint8Array> {
    const kept = this.touch(url);
    if (kept) return kept;
    let coming = this.coming.get(url);
    if (!coming) {
      coming = fetchBytes(url).then((response) => response.bytes);
      this.coming.set(url, coming);
      coming.then(
        (bytes) => this.keep(url, bytes),
        () => this.coming.delete(url),
      );
    }
    return coming;
  }

  private keep(url: string, bytes: Uint8Array): void {
    this.coming.delete(url);
    this.tiles.set(url, bytes);
    this.bytes += bytes.length;
    for (const [key, tile] of this.tiles) {
      if (this.bytes <= this.budget) break;
      this.tiles.delete(key);
      this.bytes -= tile.length;
    }
  }

  async fetchOuterMap(sha256: string): Promise<OuterMap> {
    const { bytes, headers } = await fetchBytes(`/api/artwork/${sha256}/outer`);
    return { width: Number(headers.get('x-width')), height: Number(headers.get('x-height')), cells: bytes };
  }
}

async function fetchBytes(url: string): Promise<{ bytes: Uint8Array; headers: Headers }> {
  const response = await fetch(url);
  if (!response.ok) {
    const report = (await response.json().catch(() => null)) as { message?: string } | null;
    throw new Error(report?.message ?? 'The artwork cannot be fetched.');
  }
  const unpacked = response.body!.pipeThrough(new DecompressionStream('gzip'));
  return { bytes: new Uint8Array(await new Response(unpacked).arrayBuffer()), headers: response.headers };
}

function gridOf(sheet: JobSheet, need: ArtworkNeed): TileGrid {
  const base = `/api/artwork/${sheet.artwork.sha256}/tile`;
  if (sheet.artwork.kind === 'vector') {
    return {
      width: VECTOR_TILE_WIDTH,
      height: VECTOR_TILE_HEIGHT,
      url: (row, column) =>
        `${base}?width=${need.levelWidth}&height=${need.levelHeight}&row=${row}&column=${column}`,
    };
  }
  return {
    width: RASTER_TILE,
    height: RASTER_TILE,
    url: (row, column) => `${base}?level=${need.level}&row=${row}&column=${column}`,
  };
}

/** The tiles that a rectangle lies on. */
function placesOf(rect: Rect, grid: TileGrid): { row: number; column: number }[] {
  return range(rect.y, rect.height, grid.height).flatMap((row) =>
    range(rect.x, rect.width, grid.width).map((column) => ({ row, column })),
  );
}

function range(from: number, length: number, tile: number): number[] {
  const first = Math.floor(from / tile);
  const last = Math.floor((from + length - 1) / tile);
  return Array.from({ length: last - first + 1 }, (_, k) => first + k);
}

function copyTile(
  tile: Uint8Array,
  stride: number,
  tileX: number,
  tileY: number,
  tileHeight: number,
  rect: RgbaPlane['rect'],
  data: Uint8Array,
): void {
  const x0 = Math.max(rect.x, tileX);
  const x1 = Math.min(rect.x + rect.width, tileX + stride);
  const y0 = Math.max(rect.y, tileY);
  const y1 = Math.min(rect.y + rect.height, tileY + tileHeight);
  for (let y = y0; y < y1; y++) {
    const from = ((y - tileY) * stride + (x0 - tileX)) * 4;
    data.set(tile.subarray(from, from + (x1 - x0) * 4), ((y - rect.y) * rect.width + (x0 - rect.x)) * 4);
  }
}
