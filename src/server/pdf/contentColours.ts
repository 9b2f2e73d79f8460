import { platesRefused } from './platesRefused';

/** What takes the place of a colour space that operators of a content stream choose: the name of a resource, and the colour that is chosen with it. */
export interface ChosenSpace {
  readonly name: string;
  /** Numbers of the colour that counts until another is chosen. */
  readonly initial: string;
}

/** Device colour spaces (ISO 32000-1, 8.6.4) by their names, those of inline pictures among them. */
export type DeviceSpaces = Readonly<Record<'DeviceGray' | 'DeviceRGB' | 'DeviceCMYK', ChosenSpace>>;

const OPERATORS: Readonly<Record<string, readonly [keyof DeviceSpaces, 'cs' | 'CS']>> = {
  g: ['DeviceGray', 'cs'],
  G: ['DeviceGray', 'CS'],
  rg: ['DeviceRGB', 'cs'],
  RG: ['DeviceRGB', 'CS'],
  k: ['DeviceCMYK', 'cs'],
  K: ['DeviceCMYK', 'CS'],
};
const DEVICE_NAMES: Readonly<Record<string, keyof DeviceSpaces>> = {
  DeviceGray: 'DeviceGray',
  G: 'DeviceGray',
  DeviceRGB: 'DeviceRGB',
  RGB: 'DeviceRGB',
  DeviceCMYK: 'DeviceCMYK',
  CMYK: 'DeviceCMYK',
};

const isSpace = (code: number | undefined) =>
  code === undefined || code === 0 || code === 9 || code === 10 || code === 12 || code === 13 || code === 32;
const DELIMITERS = '()<>[]{}/%';

/** What is known of a content stream once its colours were rewritten. */
export interface RewrittenContent {
  readonly bytes: Uint8Array;
  /** The device colour spaces that it chooses. */
  readonly devices: ReadonlySet<keyof DeviceSpaces>;
}

/**
 * Writes a content stream (ISO 32000-1, 7.8.2) anew, with colours that operators give as gray, RGB or CMYK chosen from resources: their tint transforms then say
 * what becomes of them. Nothing else of it changes. Throws KerameusError `pdf-plates` for inline pictures whose colours cannot be said so.
 *
 * @param begins whether it begins with black, as a page does and a form does not.
 * @param initials of resources, by their names, the colour that counts until another is chosen, where that is not all inks.
 */
export function rewriteColours(
  content: Uint8Array,
  spaces: DeviceSpaces,
  initials: ReadonlyMap<string, string>,
  begins: boolean,
): RewrittenContent {
  // One character for each byte, both ways.
  const text = Buffer.from(content.buffer, content.byteOffset, content.length).toString('latin1');
  const out: string[] = [];
  const devices = new Set<keyof DeviceSpaces>();
  const choose = (device: keyof DeviceSpaces, operator: string, numbers: string) =>
    out.push(`/${spaces[device].name} ${operator} ${numbers} ${operator === 'cs' ? 'scn' : 'SCN'}`);
  if (begins) {
    choose('DeviceGray', 'cs', '0');
    choose('DeviceGray', 'CS', '0');
    out.push('\n');
  }
  /** Where the operands of the operator to come begin. */
  let operands = 0;
  let at = 0;
  while (at < text.length) {
    const [from, to] = tokenAt(text, at);
    if (from >= text.length) break;
    at = to;
    const token = text.slice(from, to);
    if (!/^[A-Za-z'"*]/.test(token) || token === 'true' || token === 'false' || token === 'null') continue;
    const before = text.slice(operands, from);
    const known = Object.hasOwn(OPERATORS, token) ? OPERATORS[token] : undefined;
    const name = /\/([^\s()<>[\]{}/%]+)\s*$/.exec(before)?.[1];
    if (known) {
      devices.add(known[0]);
      choose(known[0], known[1], before.trim());
    } else if ((token === 'cs' || token === 'CS') && name !== undefined) {
      const device = Object.hasOwn(DEVICE_NAMES, name) ? DEVICE_NAMES[name]! : null;
      const initial = initials.get(name);
      if (device) {
        devices.add(device);
        choose(device, token, spaces[device].initial);
      } else {
        out.push(before, token);
        if (initial !== undefined) out.push(` ${initial} ${token === 'cs' ? 'scn' : 'SCN'}`);
      }
    } else if (token === 'BI') {
      const picture = inlinePicture(text, to);
      out.push(before, token, withSpace(picture.dictionary, spaces, devices), picture.rest);
      at = picture.end;
    } else out.push(before, token);
    out.push('\n');
    operands = at;
  }
  out.push(text.slice(operands));
  return { bytes: new Uint8Array(Buffer.from(out.join(''), 'latin1')), devices };
}

/** The next token from a place on, and where it ends: a string, a name, a number, an operator or a bracket. */
function tokenAt(text: string, at: number): [number, number] {
  let from = at;
  for (;;) {
    while (from < text.length && isSpace(text.charCodeAt(from))) from++;
    if (text[from] !== '%') break;
    while (from < text.length && text[from] !== '\n' && text[from] !== '\r') from++;
  }
  const first = text[from];
  if (first === '(') return [from, stringEnd(text, from)];
  if (first === '<' && text[from + 1] !== '<') {
    const end = text.indexOf('>', from);
    return [from, end < 0 ? text.length : end + 1];
  }
  if (first === '<' || first === '>') return [from, from + (text[from + 1] === first ? 2 : 1)];
  if (first !== undefined && first !== '/' && DELIMITERS.includes(first)) return [from, from + 1];
  let to = from + 1;
  while (to < text.length && !isSpace(text.charCodeAt(to)) && !DELIMITERS.includes(text[to]!)) to++;
  return [from, to];
}

function stringEnd(text: string, from: number): number {
  let depth = 0;
  for (let at = from; at < text.length; at++) {
    if (text[at] === '\\') at++;
    else if (text[at] === '(') depth++;
    else if (text[at] === ')' && --depth === 0) return at + 1;
  }
  return text.length;
}

/** What an inline picture says of itself, and its pixels with the operators round them (ISO 32000-1, 8.9.7). */
function inlinePicture(text: string, from: number) {
  let at = from;
  for (;;) {
    const [begin, end] = tokenAt(text, at);
    if (begin >= text.length) return { dictionary: text.slice(from), rest: '', end: text.length };
    at = end;
    if (text.slice(begin, end) !== 'ID') continue;
    let stop = end + 1;
    do stop = text.indexOf('EI', stop + 1);
    while (stop >= 0 && !(isSpace(text.charCodeAt(stop - 1)) && isSpaceAt(text, stop + 2)));
    const close = stop < 0 ? text.length : stop + 2;
    return { dictionary: text.slice(from, begin), rest: text.slice(begin, close), end: close };
  }
}

function isSpaceAt(text: string, at: number): boolean {
  return at >= text.length || isSpace(text.charCodeAt(at));
}

function withSpace(dictionary: string, spaces: DeviceSpaces, devices: Set<keyof DeviceSpaces>): string {
  return dictionary.replace(
    /\/(CS|ColorSpace)\s*(\/([A-Za-z]+)|\[)/,
    (whole: string, key: string, value: string, name: string | undefined) => {
      if (value === '[') {
        throw platesRefused(
          'A small picture inside of the page has colours that plates cannot be made of.',
          'Separate it here, or export it again with its pictures as they are.',
        );
      }
      const device = Object.hasOwn(DEVICE_NAMES, name!) ? DEVICE_NAMES[name!]! : null;
      if (!device) return whole;
      devices.add(device);
      return `/${key} /${spaces[device].name}`;
    },
  );
}
