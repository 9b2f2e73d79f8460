import { createHash } from 'node:crypto';
import { type FileHandle, open } from 'node:fs/promises';
import type { FilmSize } from '@/core/film';
import type { Kernels } from '@/core/kernels';
import { PngWriter } from './pngWriter';

/** A bitmap spooled as one Group 4 stream. */
export interface SpooledBitmap extends FilmSize {
  readonly streamPath: string;
  readonly streamLength: number;
  readonly streamSha256: string;
  /** Where it stands as PNG; null when that is not asked for. */
  readonly pngPath: string | null;
}

/** Takes the rows of a bitmap from top to bottom and spools them as a Group 4 stream, and as PNG where that is asked for. */
export class FilmSink {
  private readonly path: string;
  private readonly handle: FileHandle;
  private readonly size: FilmSize;
  private readonly encoder: ReturnType<Kernels['createG4Encoder']>;
  private readonly hash = createHash('sha256');
  private readonly png: PngWriter | null;
  private length = 0;

  private constructor(
    path: string,
    handle: FileHandle,
    size: FilmSize,
    encoder: ReturnType<Kernels['createG4Encoder']>,
    png: PngWriter | null,
  ) {
    this.path = path;
    this.handle = handle;
    this.size = size;
    this.encoder = encoder;
    this.png = png;
  }

  /** @param base of the spool files, without an ending. */
  static async create(
    base: string,
    size: FilmSize,
    kernels: Kernels,
    png: { readonly dpi: number } | null,
  ): Promise<FilmSink> {
    const path = `${base}.g4`;
    const handle = await open(path, 'w');
    const writer = png && new PngWriter(`${base}.bits.png`, size.widthPx, size.heightPx, png.dpi);
    return new FilmSink(path, handle, size, kernels.createG4Encoder(size.widthPx), writer);
  }

  /** @param bits rows * ceil(widthPx / 8) bytes, 1 = black. */
  async write(bits: Uint8Array, rows: number): Promise<void> {
    await this.put(this.encoder.encode(bits, rows));
    await this.png?.write(bits, rows);
  }

  private async put(bytes: Uint8Array): Promise<void> {
    if (bytes.length === 0) return;
    await this.handle.writeFile(bytes);
    this.hash.update(bytes);
    this.length += bytes.length;
  }

  async finish(): Promise<SpooledBitmap> {
    await this.put(this.encoder.finish());
    await this.png?.finish();
    const { widthMm, heightMm, widthPx, heightPx } = this.size;
    return {
      widthMm,
      heightMm,
      widthPx,
      heightPx,
      streamPath: this.path,
      streamLength: this.length,
      streamSha256: this.hash.digest('hex'),
      pngPath: this.png?.path ?? null,
    };
  }

  /** Lets go of the files, finished or not. */
  async close(): Promise<void> {
    this.png?.close();
    await this.handle.close();
  }
}
