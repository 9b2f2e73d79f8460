import { KerameusError } from '../units';
import type { Affine, Box } from './affine';
import {
  BLEND_MODES,
  CAPS,
  type Clip,
  type Drawing,
  type DrawingNode,
  type DrawingPicture,
  type DrawingPlate,
  type Fill,
  type Gradient,
  type GradientStop,
  JOINS,
  type Mask,
  type NodeList,
  type Paint,
  type Pattern,
  SPREADS,
  type Stroke,
} from './drawing';

/** The first bytes of a stored drawing, and the number of its form; another number is made anew from the file that it came from. */
const MARK = 0x5744524b;
export const DRAWING_FORM = 1;

const KIND = { shape: 0, picture: 1, group: 2 } as const;
const PAINT = { colour: 0, gradient: 1, pattern: 2 } as const;

class Writer {
  private bytes = new Uint8Array(1 << 16);
  private view = new DataView(this.bytes.buffer);
  private length = 0;

  /** Makes room for so many bytes and says where; what was read of `bytes` and `view` before is out of date then. */
  private room(count: number): number {
    const at = this.length;
    this.length += count;
    if (this.length > this.bytes.length) {
      const larger = new Uint8Array(Math.max(this.length, this.bytes.length * 2));
      larger.set(this.bytes);
      this.bytes = larger;
      this.view = new DataView(larger.buffer);
    }
    return at;
  }

  u8(value: number): void {
    const at = this.room(1);
    this.view.setUint8(at, value);
  }

  flag(value: boolean): void {
    this.u8(value ? 1 : 0);
  }

  u32(value: number): void {
    const at = this.room(4);
    this.view.setUint32(at, value, true);
  }

  f64(...values: readonly number[]): void {
    const at = this.room(8 * values.length);
    values.forEach((value, k) => this.view.setFloat64(at + 8 * k, value, true));
  }

  affine(map: Affine | null): void {
    this.flag(map !== null);
    if (map) this.f64(...map);
  }

  raw(bytes: Uint8Array): void {
    const at = this.room(bytes.length);
    this.bytes.set(bytes, at);
  }

  /** Up to a place where words can lie. */
  align(): void {
    while (this.length % 8 !== 0) this.u8(0);
  }

  finish(): Uint8Array<ArrayBuffer> {
    return this.bytes.slice(0, this.length);
  }
}

class Reader {
  private readonly bytes: Uint8Array;
  private readonly view: DataView;
  private at = 0;

  constructor(bytes: Uint8Array) {
    // Kinds of byte arrays of a host may cut pieces off without copying them.
    this.bytes = new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  private take(count: number): number {
    const { at } = this;
    if (count < 0 || at + count > this.bytes.length) throw damaged();
    this.at += count;
    return at;
  }

  u8(): number {
    return this.view.getUint8(this.take(1));
  }

  flag(): boolean {
    return this.u8() !== 0;
  }

  u32(): number {
    return this.view.getUint32(this.take(4), true);
  }

  /** An index, or -1. */
  index(): number {
    return this.u32() - 1;
  }

  f64(): number {
    return this.view.getFloat64(this.take(8), true);
  }

  affine(): Affine | null {
    if (!this.flag()) return null;
    return [this.f64(), this.f64(), this.f64(), this.f64(), this.f64(), this.f64()];
  }

  box(): Box {
    return [this.f64(), this.f64(), this.f64(), this.f64()];
  }

  of<T>(values: readonly T[]): T {
    const value = values[this.u8()];
    if (value === undefined) throw damaged();
    return value;
  }

  raw(count: number): Uint8Array<ArrayBuffer> {
    const at = this.take(count);
    return this.bytes.slice(at, at + count) as Uint8Array<ArrayBuffer>;
  }

  align(): void {
    while (this.at % 8 !== 0) this.take(1);
  }

  get isAtEnd(): boolean {
    return this.at === this.bytes.length;
  }

  array<T>(read: () => T): T[] {
    const count = this.u32();
    // Each thing takes a byte at least: a damaged count asks for no memory.
    if (count > this.bytes.length) throw damaged();
    return Array.from({ length: count }, read);
  }
}

function damaged(): KerameusError {
  return new KerameusError({
    code: 'drawing-damaged',
    parameter: 'artwork',
    message: 'The stored form of the drawing is damaged.',
    remedy: 'Drop the artwork again.',
  });
}

/** A drawing as it is kept and sent. The same drawing gives the same bytes. */
export function storeDrawing(drawing: Drawing): Uint8Array<ArrayBuffer> {
  const out = new Writer();
  out.u32(MARK);
  out.u32(DRAWING_FORM);
  out.f64(drawing.width, drawing.height);
  const { verbs, coords } = drawing.paths;
  out.u32(verbs.length);
  out.u32(coords.length);
  out.raw(verbs);
  out.align();
  out.raw(new Uint8Array(coords.buffer, coords.byteOffset, coords.byteLength));
  out.align();
  writeAll(out, drawing.pictures, writePicture);
  writeAll(out, drawing.gradients, writeGradient);
  writeAll(out, drawing.patterns, writePattern);
  writeAll(out, drawing.clips, writeClip);
  writeAll(out, drawing.masks, writeMask);
  writeList(out, drawing.root);
  const bytes = out.finish();
  if (!drawing.plates) return bytes;
  const plates = drawing.plates.map(({ name, drawing: plate }) => ({ name, bytes: storeDrawing(plate) }));
  return withStoredPlates(bytes, plates);
}

/** A stored drawing with plates that were stored by themselves. @param bytes of a drawing without plates. */
export function withStoredPlates(
  bytes: Uint8Array,
  plates: readonly { readonly name: string; readonly bytes: Uint8Array }[],
): Uint8Array<ArrayBuffer> {
  const out = new Writer();
  out.raw(bytes);
  writeAll(out, plates, (to, plate) => {
    writeBytes(to, new TextEncoder().encode(plate.name));
    writeBytes(to, plate.bytes);
  });
  return out.finish();
}

function writeBytes(out: Writer, bytes: Uint8Array): void {
  out.u32(bytes.length);
  out.raw(bytes);
}

function writeAll<T>(out: Writer, all: readonly T[], write: (out: Writer, each: T) => void): void {
  out.u32(all.length);
  for (const each of all) write(out, each);
}

function writePicture(out: Writer, { width, height, data }: DrawingPicture): void {
  out.u32(width);
  out.u32(height);
  out.raw(data);
}

function writeGradient(out: Writer, gradient: Gradient): void {
  const { x1, y1, r1, x2, y2, r2 } = gradient;
  out.flag(gradient.kind === 'radial');
  out.f64(x1, y1, r1, x2, y2, r2);
  out.flag(gradient.byBox);
  out.affine(gradient.transform);
  out.u8(SPREADS.indexOf(gradient.spread));
  writeAll(out, gradient.stops, (to, stop) => {
    to.f64(stop.offset, stop.opacity);
    to.u32(stop.rgb);
  });
}

function writePattern(out: Writer, pattern: Pattern): void {
  out.f64(...pattern.cell);
  out.flag(pattern.byBox);
  out.flag(pattern.contentByBox);
  out.affine(pattern.transform);
  out.flag(pattern.viewBox !== null);
  if (pattern.viewBox) {
    const { box, stretch, alignX, alignY, slice } = pattern.viewBox;
    out.f64(...box, alignX, alignY);
    out.flag(stretch);
    out.flag(slice);
  }
  writeList(out, pattern.children);
}

function writeClip(out: Writer, clip: Clip): void {
  out.flag(clip.byBox);
  out.affine(clip.transform);
  out.u32(clip.clip + 1);
  writeList(out, clip.children);
}

function writeMask(out: Writer, mask: Mask): void {
  out.f64(...mask.area);
  out.flag(mask.byBox);
  out.flag(mask.contentByBox);
  out.flag(mask.alphaOnly);
  out.u32(mask.mask + 1);
  writeList(out, mask.children);
}

function writePaint(out: Writer, paint: Paint): void {
  out.u8(PAINT[paint.kind]);
  out.u32(paint.kind === 'colour' ? paint.rgb : paint.index);
}

function writeList(out: Writer, { nodes, hulls, blends }: NodeList): void {
  out.u32(nodes.length);
  out.flag(blends);
  out.raw(new Uint8Array(hulls.buffer, hulls.byteOffset, hulls.byteLength));
  for (const node of nodes) writeNode(out, node);
}

function writeNode(out: Writer, node: DrawingNode): void {
  out.u8(KIND[node.kind]);
  if (node.kind === 'picture') {
    out.u32(node.picture);
    out.affine(node.transform);
    out.flag(node.shown !== null);
    if (node.shown) out.f64(...node.shown);
    out.flag(node.smooth);
    return;
  }
  out.affine(node.transform);
  out.f64(...node.box);
  if (node.kind === 'group') {
    out.f64(node.opacity);
    out.u8(BLEND_MODES.indexOf(node.blend));
    out.flag(node.isolated);
    out.u32(node.clip + 1);
    out.u32(node.mask + 1);
    writeList(out, node.children);
    return;
  }
  out.u32(node.verbFrom);
  out.u32(node.verbTo);
  out.u32(node.coordFrom);
  out.flag(node.strokeFirst);
  out.flag(node.fill !== null);
  if (node.fill) {
    writePaint(out, node.fill.paint);
    out.f64(node.fill.opacity);
    out.flag(node.fill.evenOdd);
  }
  out.flag(node.stroke !== null);
  if (node.stroke) {
    const { paint, opacity, width, cap, join, miterLimit, dashes, dashOffset } = node.stroke;
    writePaint(out, paint);
    out.f64(opacity, width, miterLimit, dashOffset);
    out.u8(CAPS.indexOf(cap));
    out.u8(JOINS.indexOf(join));
    writeAll(out, dashes, (to, dash) => to.f64(dash));
  }
}

/** Reads what `storeDrawing` wrote. Throws KerameusError `drawing-damaged`. */
export function readStoredDrawing(bytes: Uint8Array): Drawing {
  const input = new Reader(bytes);
  if (input.u32() !== MARK || input.u32() !== DRAWING_FORM) throw damaged();
  const [width, height] = [input.f64(), input.f64()];
  const [verbCount, coordCount] = [input.u32(), input.u32()];
  const verbs = input.raw(verbCount);
  input.align();
  const coords = new Float32Array(input.raw(coordCount * 4).buffer);
  input.align();
  const pictures = input.array((): DrawingPicture => {
    const [w, h] = [input.u32(), input.u32()];
    return { width: w, height: h, data: input.raw(w * h * 4) };
  });
  const gradients = input.array(() => readGradient(input));
  const patterns = input.array(() => readPattern(input));
  const clips = input.array(() => readClip(input));
  const masks = input.array(() => readMask(input));
  const root = readList(input);
  const own = { width, height, paths: { verbs, coords }, pictures, gradients, patterns, clips, masks, root };
  if (input.isAtEnd) return own;
  const plates = input.array((): DrawingPlate => {
    const plateName = new TextDecoder().decode(input.raw(input.u32()));
    const drawing = readStoredDrawing(input.raw(input.u32()));
    if (drawing.plates || drawing.width !== width || drawing.height !== height) throw damaged();
    return { name: plateName, drawing };
  });
  return { ...own, plates };
}

function readGradient(input: Reader): Gradient {
  const kind = input.flag() ? 'radial' : 'linear';
  const [x1, y1, r1, x2, y2, r2] = Array.from({ length: 6 }, () => input.f64()) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const byBox = input.flag();
  const transform = input.affine();
  const spread = input.of(SPREADS);
  const stops = input.array((): GradientStop => {
    const [offset, opacity] = [input.f64(), input.f64()];
    return { offset, opacity, rgb: input.u32() };
  });
  return { kind, x1, y1, r1, x2, y2, r2, byBox, transform, spread, stops };
}

function readPattern(input: Reader): Pattern {
  const cell = input.box();
  const [byBox, contentByBox] = [input.flag(), input.flag()];
  const transform = input.affine();
  const viewBox = input.flag()
    ? {
        box: input.box(),
        alignX: input.f64(),
        alignY: input.f64(),
        stretch: input.flag(),
        slice: input.flag(),
      }
    : null;
  return { cell, byBox, contentByBox, transform, viewBox, children: readList(input) };
}

function readClip(input: Reader): Clip {
  return { byBox: input.flag(), transform: input.affine(), clip: input.index(), children: readList(input) };
}

function readMask(input: Reader): Mask {
  return {
    area: input.box(),
    byBox: input.flag(),
    contentByBox: input.flag(),
    alphaOnly: input.flag(),
    mask: input.index(),
    children: readList(input),
  };
}

function readPaint(input: Reader): Paint {
  const kind = input.u8();
  const value = input.u32();
  if (kind === PAINT.colour) return { kind: 'colour', rgb: value };
  return { kind: kind === PAINT.gradient ? 'gradient' : 'pattern', index: value };
}

function readList(input: Reader): NodeList {
  const count = input.u32();
  const blends = input.flag();
  const hulls = new Float32Array(input.raw(count * 16).buffer);
  const nodes: DrawingNode[] = [];
  for (let k = 0; k < count; k++) nodes.push(readNode(input));
  return { nodes, hulls, blends };
}

function readNode(input: Reader): DrawingNode {
  const kind = input.u8();
  if (kind === KIND.picture) {
    const picture = input.u32();
    const transform = input.affine();
    if (!transform) throw damaged();
    const shown = input.flag() ? input.box() : null;
    return { kind: 'picture', picture, transform, shown, smooth: input.flag() };
  }
  const transform = input.affine();
  const box = input.box();
  if (kind === KIND.group) {
    return {
      kind: 'group',
      transform,
      box,
      opacity: input.f64(),
      blend: input.of(BLEND_MODES),
      isolated: input.flag(),
      clip: input.index(),
      mask: input.index(),
      children: readList(input),
    };
  }
  const [verbFrom, verbTo, coordFrom] = [input.u32(), input.u32(), input.u32()];
  const strokeFirst = input.flag();
  const fill: Fill | null = input.flag()
    ? { paint: readPaint(input), opacity: input.f64(), evenOdd: input.flag() }
    : null;
  const stroke = input.flag() ? readStroke(input) : null;
  return { kind: 'shape', transform, box, verbFrom, verbTo, coordFrom, strokeFirst, fill, stroke };
}

function readStroke(input: Reader): Stroke {
  const paint = readPaint(input);
  const [opacity, width, miterLimit, dashOffset] = [input.f64(), input.f64(), input.f64(), input.f64()];
  const [cap, join] = [input.of(CAPS), input.of(JOINS)];
  return { paint, opacity, width, miterLimit, dashOffset, cap, join, dashes: input.array(() => input.f64()) };
}
