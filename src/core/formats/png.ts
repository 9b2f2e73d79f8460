/** Checksum of PNG chunks (W3C PNG, annex D). */
const CRC_TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});

function crc(bytes: Uint8Array): number {
  let c = 0xffffffff;
  for (const byte of bytes) c = CRC_TABLE[(c ^ byte) & 255]! ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}

/** One chunk of a PNG: length, type, data, checksum. */
export function pngChunk(type: string, data: Uint8Array): Uint8Array {
  const chunk = new Uint8Array(data.length + 12);
  const view = new DataView(chunk.buffer);
  view.setUint32(0, data.length);
  for (let k = 0; k < 4; k++) chunk[4 + k] = type.charCodeAt(k);
  chunk.set(data, 8);
  view.setUint32(data.length + 8, crc(chunk.subarray(4, data.length + 8)));
  return chunk;
}

/** The chunk that states a resolution, which is in pixels per metre. */
function physicalChunk(dpi: number): Uint8Array {
  const physical = new Uint8Array(9);
  const view = new DataView(physical.buffer);
  const perMetre = Math.round(dpi / 0.0254);
  view.setUint32(0, perMetre);
  view.setUint32(4, perMetre);
  physical[8] = 1;
  return pngChunk('pHYs', physical);
}

function joined(parts: readonly Uint8Array[]): Uint8Array {
  const all = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}

/** Bytes of the signature and the header's chunk. */
const HEAD_BYTES = 33;

/** A PNG with its resolution stated, in place of what it stated before. */
export function withResolution(png: Uint8Array, dpi: number): Uint8Array {
  const view = new DataView(png.buffer, png.byteOffset, png.byteLength);
  const parts = [png.subarray(0, HEAD_BYTES), physicalChunk(dpi)];
  for (let at = HEAD_BYTES; at + 12 <= png.length;) {
    const end = at + 12 + view.getUint32(at);
    const type = String.fromCharCode(...png.subarray(at + 4, at + 8));
    if (type !== 'pHYs') parts.push(png.subarray(at, end));
    at = end;
  }
  return joined(parts);
}

/** What stands before the pixels of a bilevel PNG: signature, size, resolution. W3C PNG, ISO 15948. */
export function bilevelPngHead(width: number, height: number, dpi: number): Uint8Array {
  const header = new Uint8Array(13);
  const headerView = new DataView(header.buffer);
  headerView.setUint32(0, width);
  headerView.setUint32(4, height);
  // One bit, greyscale, deflate, no filter method but the standard's, not interlaced.
  header.set([1, 0, 0, 0, 0], 8);
  const parts = [
    Uint8Array.of(137, 80, 78, 71, 13, 10, 26, 10),
    pngChunk('IHDR', header),
    physicalChunk(dpi),
  ];
  return joined(parts);
}

/**
 * Rows of a bilevel PNG before deflating: a filter byte of 0 and the row, inverted, since 0 is black there.
 * @param bits rows * ceil(width / 8) bytes, 1 = black.
 */
export function bilevelPngRows(bits: Uint8Array, width: number, rows: number): Uint8Array {
  const rowBytes = (width + 7) >> 3;
  const out = new Uint8Array(rows * (rowBytes + 1));
  for (let row = 0; row < rows; row++) {
    const from = row * rowBytes;
    const to = row * (rowBytes + 1) + 1;
    for (let k = 0; k < rowBytes; k++) out[to + k] = ~bits[from + k]! & 255;
  }
  return out;
}
