import { type WriteStream, createWriteStream } from 'node:fs';
import { once } from 'node:events';
import { finished } from 'node:stream/promises';
import { type Deflate, createDeflate } from 'node:zlib';
import { bilevelPngHead, bilevelPngRows, pngChunk } from '@/core/formats';

/** Writes a film as a bilevel PNG, strip by strip. */
export class PngWriter {
  readonly path: string;
  private readonly width: number;
  private readonly file: WriteStream;
  private readonly deflate: Deflate;
  private failure: Error | null = null;

  constructor(file: string, width: number, height: number, dpi: number) {
    this.path = file;
    this.width = width;
    this.file = createWriteStream(file);
    this.file.on('error', (error) => (this.failure = error));
    this.file.write(bilevelPngHead(width, height, dpi));
    this.deflate = createDeflate({ level: 6 });
    this.deflate.on('data', (bytes: Uint8Array) => this.file.write(pngChunk('IDAT', bytes)));
  }

  /** @param bits 1 = black. Throws what writing the file throws. */
  async write(bits: Uint8Array, rows: number): Promise<void> {
    if (this.failure) throw this.failure;
    if (!this.deflate.write(bilevelPngRows(bits, this.width, rows))) await once(this.deflate, 'drain');
  }

  async finish(): Promise<void> {
    this.deflate.end();
    await finished(this.deflate);
    this.file.end(pngChunk('IEND', new Uint8Array(0)));
    await finished(this.file);
  }

  /** Lets go of the file, finished or not. */
  close(): void {
    this.deflate.destroy();
    this.file.destroy();
  }
}
