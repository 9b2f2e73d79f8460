/** A bilevel image that stands as one Group 4 stream. */
export interface BilevelImage {
  readonly width: number;
  readonly height: number;
  readonly dpi: number;
  /** Bytes of the stream. */
  readonly length: number;
  /** For the reader of the file. */
  readonly description: string;
}

const SHORT = 3;
const LONG = 4;
const ASCII = 2;
const RATIONAL = 5;

/**
 * The bytes before the stream of a one-strip bilevel TIFF: header and directory. The file is these bytes followed by
 * the stream, WhiteIsZero, so that set bits are ink. TIFF 6.0, sections 2, 8 and 11.
 */
export function tiffHead(image: BilevelImage): Uint8Array {
  const text = asciiBytes(image.description);
  const software = asciiBytes('Kerameus');
  const entries: [tag: number, type: number, count: number, value: number | Uint8Array][] = [
    [254, LONG, 1, 0], // NewSubfileType
    [256, LONG, 1, image.width],
    [257, LONG, 1, image.height],
    [258, SHORT, 1, 1], // BitsPerSample
    [259, SHORT, 1, 4], // Compression: T.6
    [262, SHORT, 1, 0], // PhotometricInterpretation: WhiteIsZero
    [266, SHORT, 1, 1], // FillOrder: most significant bit first
    [270, ASCII, text.length, text], // ImageDescription
    [273, LONG, 1, -1], // StripOffsets, set below
    [274, SHORT, 1, 1], // Orientation: top left
    [277, SHORT, 1, 1], // SamplesPerPixel
    [278, LONG, 1, image.height], // RowsPerStrip
    [279, LONG, 1, image.length], // StripByteCounts
    [282, RATIONAL, 1, rational(image.dpi)],
    [283, RATIONAL, 1, rational(image.dpi)],
    [293, LONG, 1, 0], // T6Options
    [296, SHORT, 1, 2], // ResolutionUnit: inch
    [305, ASCII, software.length, software],
  ];
  const directoryAt = 8;
  let extraAt = directoryAt + 2 + entries.length * 12 + 4;
  const extras: { at: number; bytes: Uint8Array }[] = [];
  for (const [, , , value] of entries) {
    if (typeof value === 'number' || value.length <= 4) continue;
    extras.push({ at: extraAt, bytes: value });
    extraAt += value.length + (value.length & 1);
  }
  const head = new Uint8Array(extraAt);
  const view = new DataView(head.buffer);
  head.set([0x49, 0x49, 42, 0]);
  view.setUint32(4, directoryAt, true);
  view.setUint16(directoryAt, entries.length, true);
  let nextExtra = 0;
  entries.forEach(([tag, type, count, value], index) => {
    const at = directoryAt + 2 + index * 12;
    view.setUint16(at, tag, true);
    view.setUint16(at + 2, type, true);
    view.setUint32(at + 4, count, true);
    if (typeof value !== 'number') {
      if (value.length <= 4) head.set(value, at + 8);
      else view.setUint32(at + 8, extras[nextExtra++]!.at, true);
    } else if (type === SHORT) view.setUint16(at + 8, value, true);
    else view.setUint32(at + 8, tag === 273 ? extraAt : value, true);
  });
  for (const { at, bytes } of extras) head.set(bytes, at);
  return head;
}

function rational(value: number): Uint8Array {
  const bytes = new Uint8Array(8);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, Math.round(value * 1000), true);
  view.setUint32(4, 1000, true);
  return bytes;
}

/** Printable ASCII with a closing zero; anything else becomes a question mark. */
function asciiBytes(text: string): Uint8Array {
  const plain = text.normalize('NFKD').replace(/[\u0300-\u036f]/g, '');
  return Uint8Array.from([...plain].map((c) => (c >= ' ' && c <= '~' ? c.charCodeAt(0) : 63)).concat(0));
}
