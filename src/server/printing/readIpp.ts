/** A value of an attribute, as far as a film printer's answers need it. */
export type IppValue = string | number | boolean | IppResolution;

/** RFC 8010, 3.9: cross feed, feed, and 3 for dots per inch or 4 per centimetre. */
export interface IppResolution {
  readonly across: number;
  readonly feed: number;
  readonly unit: number;
}

export interface IppAnswer {
  /** RFC 8011, 4.1.8; below 256 it succeeded. */
  readonly status: number;
  /** Values of each attribute, by the tag of its group (RFC 8010, 3.5.1). */
  readonly groups: ReadonlyMap<number, ReadonlyMap<string, readonly IppValue[]>>;
}

export const GROUP = { operation: 1, job: 2, printer: 4 } as const;

const END_OF_ATTRIBUTES = 3;
/** Tags from here on are of values, those below of groups. */
const FIRST_VALUE_TAG = 0x10;
const TAG = {
  integer: 0x21,
  boolean: 0x22,
  enumeration: 0x23,
  resolution: 0x32,
  beginCollection: 0x34,
  textWithLanguage: 0x35,
  nameWithLanguage: 0x36,
  endCollection: 0x37,
} as const;
/** Tags of texts: text, name, keyword, uri and so on. */
const FIRST_TEXT_TAG = 0x40;

/** More values than any printer tells. */
const MOST_VALUES = 20_000;
const MOST_NESTED = 16;

/** Thrown for bytes that are no answer of IPP. */
export class IppDamage extends Error {}

/**
 * Reads an answer of a printer (RFC 8010, 3.1). Every length is held against what is there, so that no answer takes more than its own size. Members of
 * collections are passed over. Throws IppDamage.
 */
export function readIpp(bytes: Uint8Array): IppAnswer {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 0;
  const take = (count: number): number => {
    const from = at;
    if (count < 0 || from + count > bytes.length) throw new IppDamage('the answer ends early');
    at += count;
    return from;
  };
  const text = (length: number): string => new TextDecoder('utf-8').decode(bytes.subarray(take(length), at));
  const version = view.getUint8(take(2));
  if (version < 1 || version > 2) throw new IppDamage('the answer is of another protocol');
  const status = view.getUint16(take(2));
  take(4);
  const groups = new Map<number, Map<string, IppValue[]>>();
  let group: Map<string, IppValue[]> | null = null;
  let values: IppValue[] | null = null;
  let count = 0;
  let depth = 0;
  while (at < bytes.length) {
    const tag = view.getUint8(take(1));
    if (tag === END_OF_ATTRIBUTES) return { status, groups };
    if (tag < FIRST_VALUE_TAG) {
      group = groups.get(tag) ?? new Map<string, IppValue[]>();
      groups.set(tag, group);
      values = null;
      depth = 0;
      continue;
    }
    if (!group) throw new IppDamage('an attribute stands outside of a group');
    if (++count > MOST_VALUES) throw new IppDamage('the answer has too many values');
    const name = text(view.getUint16(take(2)));
    const length = view.getUint16(take(2));
    const from = take(length);
    if (tag === TAG.beginCollection && ++depth > MOST_NESTED)
      throw new IppDamage('collections are nested too deep');
    if (tag === TAG.endCollection) depth--;
    if (depth > 0 || tag === TAG.endCollection) continue;
    if (name !== '') {
      values = group.get(name) ?? [];
      group.set(name, values);
    }
    if (!values) throw new IppDamage('a value has no attribute');
    const value = readValue(view, bytes, tag, from, length);
    if (value !== null) values.push(value);
  }
  throw new IppDamage('the answer ends early');
}

function readValue(
  view: DataView,
  bytes: Uint8Array,
  tag: number,
  from: number,
  length: number,
): IppValue | null {
  const sized = (expected: number): void => {
    if (length !== expected) throw new IppDamage('a value has a length that its kind does not have');
  };
  if (tag === TAG.integer || tag === TAG.enumeration) {
    sized(4);
    return view.getInt32(from);
  }
  if (tag === TAG.boolean) {
    sized(1);
    return view.getUint8(from) !== 0;
  }
  if (tag === TAG.resolution) {
    sized(9);
    return { across: view.getInt32(from), feed: view.getInt32(from + 4), unit: view.getUint8(from + 8) };
  }
  const decode = (start: number, end: number) => new TextDecoder('utf-8').decode(bytes.subarray(start, end));
  if (tag === TAG.textWithLanguage || tag === TAG.nameWithLanguage) {
    const language = length >= 4 ? view.getUint16(from) : length;
    if (4 + language > length) throw new IppDamage('a text with a language is cut off');
    return decode(from + 4 + language, from + length);
  }
  // No value, unknown, dates and ranges say nothing here.
  return tag >= FIRST_TEXT_TAG ? decode(from, from + length) : null;
}
