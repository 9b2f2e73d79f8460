import { closeSync, openSync, readFileSync, readSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import type { ArtworkReader, RgbaPlane } from '@/core/artwork';
import { givePicture, hasPicture } from '@/core/texture';
import {
  type Drawing,
  type DrawingKernels,
  DrawingLevel,
  PLAIN_DRAWING_KERNELS,
  solidPaints,
  readStoredDrawing,
} from '@/core/drawing';
import type { Rect } from '@/core/geometry';
import type { ArtworkNeed } from '@/core/pipeline';

/** One level of decoded raster artwork: raw sRGB with straight alpha, row after row. */
export interface RasterLevel {
  readonly width: number;
  readonly height: number;
  readonly path: string;
}

/** The picture of a job's texture, and where its gzipped samples lie. */
export interface TextureFile {
  readonly sha256: string;
  readonly path: string;
}

/** Where decoded artwork lies, and what else its job prints; can be sent to a thread. */
export type ArtworkFiles = (
  | { readonly kind: 'raster'; readonly levels: readonly RasterLevel[] }
  /** A drawing in its stored form (`core/drawing`). */
  | { readonly kind: 'vector'; readonly path: string }
) & { readonly texture?: TextureFile };

/** Decoded artwork that is open for reading, on one thread. */
export interface ArtworkSource {
  /** The plane is good until the next one is read: that lies in the same memory. */
  read(need: ArtworkNeed): RgbaPlane;
  /** The whole artwork at a level (raster) or at a width in pixels (vector). */
  reader(levelOrWidth: number): ArtworkReader;
  /** Colours that a drawing paints flat, red lowest. */
  readonly paints?: ReadonlySet<number>;
  close(): void;
}

/** Memory for planes that follow each other: what is thrown away in megabytes is collected late. */
class Room {
  private block = new Uint8Array(0);

  /** So many bytes, all 0. */
  bytes(count: number): Uint8Array {
    if (this.block.length < count) this.block = new Uint8Array(count);
    return this.block.subarray(0, count).fill(0);
  }
}

class RasterFile implements ArtworkReader {
  readonly width: number;
  readonly height: number;
  private readonly file: number;

  constructor(level: RasterLevel) {
    this.width = level.width;
    this.height = level.height;
    this.file = openSync(level.path, 'r');
  }

  read(rect: Rect, room = new Room()): RgbaPlane {
    const data = room.bytes(rect.width * rect.height * 4);
    if (rect.x === 0 && rect.width === this.width) {
      readSync(this.file, data, 0, data.length, rect.y * this.width * 4);
    } else {
      for (let row = 0; row < rect.height; row++) {
        const at = ((rect.y + row) * this.width + rect.x) * 4;
        readSync(this.file, data, row * rect.width * 4, rect.width * 4, at);
      }
    }
    return { rect, data };
  }

  close(): void {
    closeSync(this.file);
  }
}

/** Opens decoded artwork; the picture of its job's texture is given to this thread. */
export function openArtwork(files: ArtworkFiles, kernels = PLAIN_DRAWING_KERNELS): ArtworkSource {
  const { texture } = files;
  if (texture && !hasPicture(texture.sha256)) {
    givePicture(texture.sha256, new Uint8Array(gunzipSync(readFileSync(texture.path))));
  }
  if (files.kind === 'vector') return openVector(readStoredDrawing(readFileSync(files.path)), kernels);
  const open = new Map<number, RasterFile>();
  const level = (index: number): RasterFile => {
    let file = open.get(index);
    if (!file) {
      file = new RasterFile(files.levels[index]!);
      open.set(index, file);
    }
    return file;
  };
  const room = new Room();
  return {
    read: (need) => level(need.level).read(need.rect, room),
    reader: (index) => level(Math.min(index, files.levels.length - 1)),
    close: () => open.forEach((file) => file.close()),
  };
}

function openVector(drawing: Drawing, kernels: DrawingKernels): ArtworkSource {
  let current: DrawingLevel | undefined;
  const level = (width: number, height: number): DrawingLevel => {
    if (current?.width !== width || current.height !== height)
      current = new DrawingLevel(drawing, width, height, kernels);
    return current;
  };
  const room = new Room();
  return {
    read: (need) => {
      const { rect, channels } = need;
      const data = room.bytes(rect.width * rect.height * 4);
      return level(need.levelWidth, need.levelHeight).readInto(rect, data, channels);
    },
    reader: (width) => {
      const height = Math.max(1, Math.round((width * drawing.height) / drawing.width));
      return inMemory(new DrawingLevel(drawing, width, height, kernels));
    },
    paints: solidPaints(drawing),
    close: () => undefined,
  };
}

/** A small level read once and kept, since analyses go over it several times. */
function inMemory(level: ArtworkReader): ArtworkReader {
  const { width, height } = level;
  const whole = level.read({ x: 0, y: 0, width, height }).data;
  return {
    width,
    height,
    read: (rect) => {
      const data = new Uint8Array(rect.width * rect.height * 4);
      for (let row = 0; row < rect.height; row++) {
        const from = ((rect.y + row) * width + rect.x) * 4;
        data.set(whole.subarray(from, from + rect.width * 4), row * rect.width * 4);
      }
      return { rect, data };
    },
  };
}
