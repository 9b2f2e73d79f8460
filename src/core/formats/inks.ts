import { linearFromRgb8, parseHexColour, encodeSrgb8 } from '../colour';

/** An ink as files for a RIP name it. */
export interface NamedInk {
  readonly name: string;
  /** Colour as printed solid over white. */
  readonly colour: string;
}

/** Names that PDF keeps for the process inks, for all inks and for none. */
const RESERVED = ['All', 'None', 'Cyan', 'Magenta', 'Yellow', 'Black'];

/** Ink names as they stand in files, each once: a second one of a name has a number behind it; one that is reserved says that it is a spot ink. */
export function uniqueInkNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    const plain = RESERVED.includes(name) ? `${name} spot` : name;
    let unique = plain;
    for (let k = 2; taken.has(unique); k++) unique = `${plain} ${k}`;
    taken.add(unique);
    return unique;
  });
}

/**
 * The tint transform of inks for viewers without them, as a PostScript calculator function of PDF (ISO 32000-1, 7.10.5): each ink
 * filters what is under it. From one tint for each ink, 0..1, to sRGB.
 */
export function tintTransform(inks: readonly NamedInk[]): string {
  const count = inks.length;
  const colours = inks.map(({ colour }) => parseHexColour(colour).map((code) => code / 255));
  const code: string[] = [];
  for (let channel = 0; channel < 3; channel++) {
    code.push('1');
    colours.forEach((colour, k) => {
      // On the stack: tints, the channels that are done, the product so far.
      code.push(`${channel + count - k} index ${(colour[channel]! - 1).toFixed(4)} mul 1 add mul`);
    });
  }
  code.push(`${count + 3} 3 roll`, ...Array.from({ length: count }, () => 'pop'));
  return `{ ${code.join(' ')} }`;
}

const SHORT = 3;
const LONG = 4;
const ASCII = 2;
const RATIONAL = 5;

/** An image of several inks, 8 bits each, chunky, its strips deflated one by one. */
export interface InkImage {
  readonly width: number;
  readonly height: number;
  /** Pixels per inch across and down. */
  readonly dpiX: number;
  readonly dpiY: number;
  readonly inks: readonly string[];
  readonly rowsPerStrip: number;
  /** Bytes of each strip, deflated. */
  readonly stripLengths: readonly number[];
}

/**
 * The bytes before the strips of a TIFF of named inks: photometric interpretation separated, InkSet 2. TIFF 6.0, sections 2 and
 * 16; deflate is Adobe's supplement of 2002.
 */
export function inkTiffHead(image: InkImage): Uint8Array {
  const { inks, stripLengths } = image;
  const names = new TextEncoder().encode(inks.map((name) => `${asciiOf(name)}\0`).join(''));
  const software = new TextEncoder().encode('Kerameus\0');
  const shorts = (values: readonly number[]) => {
    const bytes = new Uint8Array(values.length * 2);
    values.forEach((value, k) => new DataView(bytes.buffer).setUint16(k * 2, value, true));
    return bytes;
  };
  const longs = (values: readonly number[]) => {
    const bytes = new Uint8Array(values.length * 4);
    values.forEach((value, k) => new DataView(bytes.buffer).setUint32(k * 4, value, true));
    return bytes;
  };
  const ratio = (value: number) => longs([Math.round(value * 10000), 10000]);
  const entries: { tag: number; type: number; count: number; bytes: Uint8Array }[] = [
    { tag: 254, type: LONG, count: 1, bytes: longs([0]) },
    { tag: 256, type: LONG, count: 1, bytes: longs([image.width]) },
    { tag: 257, type: LONG, count: 1, bytes: longs([image.height]) },
    { tag: 258, type: SHORT, count: inks.length, bytes: shorts(inks.map(() => 8)) },
    { tag: 259, type: SHORT, count: 1, bytes: shorts([8]) },
    { tag: 262, type: SHORT, count: 1, bytes: shorts([5]) },
    { tag: 273, type: LONG, count: stripLengths.length, bytes: longs(stripLengths) },
    { tag: 274, type: SHORT, count: 1, bytes: shorts([1]) },
    { tag: 277, type: SHORT, count: 1, bytes: shorts([inks.length]) },
    { tag: 278, type: LONG, count: 1, bytes: longs([image.rowsPerStrip]) },
    { tag: 279, type: LONG, count: stripLengths.length, bytes: longs(stripLengths) },
    { tag: 282, type: RATIONAL, count: 1, bytes: ratio(image.dpiX) },
    { tag: 283, type: RATIONAL, count: 1, bytes: ratio(image.dpiY) },
    { tag: 284, type: SHORT, count: 1, bytes: shorts([1]) },
    { tag: 296, type: SHORT, count: 1, bytes: shorts([2]) },
    { tag: 305, type: ASCII, count: software.length, bytes: software },
    { tag: 332, type: SHORT, count: 1, bytes: shorts([2]) }, // InkSet: not CMYK
    { tag: 333, type: ASCII, count: names.length, bytes: names }, // InkNames
    { tag: 334, type: SHORT, count: 1, bytes: shorts([inks.length]) }, // NumberOfInks
  ];
  const directoryAt = 8;
  let end = directoryAt + 2 + entries.length * 12 + 4;
  const places = entries.map(({ bytes }) => {
    if (bytes.length <= 4) return 0;
    const at = end;
    end += bytes.length + (bytes.length & 1);
    return at;
  });
  let offset = end;
  const offsets = stripLengths.map((length) => {
    const at = offset;
    offset += length;
    return at;
  });
  const head = new Uint8Array(end);
  const view = new DataView(head.buffer);
  head.set([0x49, 0x49, 42, 0]);
  view.setUint32(4, directoryAt, true);
  view.setUint16(directoryAt, entries.length, true);
  entries.forEach(({ tag, type, count, bytes }, index) => {
    const at = directoryAt + 2 + index * 12;
    view.setUint16(at, tag, true);
    view.setUint16(at + 2, type, true);
    view.setUint32(at + 4, count, true);
    const value = tag === 273 ? longs(offsets) : bytes;
    if (value.length <= 4) head.set(value, at + 8);
    else {
      view.setUint32(at + 8, places[index]!, true);
      head.set(value, places[index]!);
    }
  });
  return head;
}

/** Names of inks in TIFF are ASCII; anything else becomes a question mark. */
function asciiOf(text: string): string {
  const plain = text.normalize('NFKD').replace(/[\u0300-\u036f]/g, '');
  return [...plain].map((c) => (c >= ' ' && c <= '~' ? c : '?')).join('');
}

/**
 * A print as transparent sRGB pixels, from how it looks on black and on white: what lets the ground through is transparent.
 *
 * @param onBlack sRGB, four bytes a pixel, as are `onWhite` and the answer.
 */
export function transparentPixels(onBlack: ArrayLike<number>, onWhite: ArrayLike<number>): Uint8Array {
  const out = new Uint8Array(onBlack.length);
  for (let i = 0; i < onBlack.length; i += 4) {
    const black = linearFromRgb8([onBlack[i]!, onBlack[i + 1]!, onBlack[i + 2]!]);
    const white = linearFromRgb8([onWhite[i]!, onWhite[i + 1]!, onWhite[i + 2]!]);
    const through = Math.min(1, Math.max(0, ...black.map((value, k) => white[k]! - value)));
    const alpha = 1 - through;
    if (alpha <= 0) continue;
    for (let k = 0; k < 3; k++) out[i + k] = encodeSrgb8(Math.min(1, black[k]! / alpha));
    out[i + 3] = Math.round(alpha * 255);
  }
  return out;
}
