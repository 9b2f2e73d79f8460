/** A mask seen four pixels at a time, and where the last few begin. */
function words(mask: Uint8Array): { view: Uint32Array; tail: number } {
  const count = mask.length >> 2;
  return { view: new Uint32Array(mask.buffer, mask.byteOffset, count), tail: count * 4 };
}

/** target |= mask, for masks of 0 and 255 that start on a word. */
export function orInto(target: Uint8Array, mask: Uint8Array): void {
  const { view, tail } = words(target);
  const other = words(mask).view;
  for (let i = 0; i < view.length; i++) view[i]! |= other[i]!;
  for (let i = tail; i < target.length; i++) target[i]! |= mask[i]!;
}

/** target &= ~mask, for masks of 0 and 255 that start on a word. */
export function clearFrom(target: Uint8Array, mask: Uint8Array): void {
  const { view, tail } = words(target);
  const other = words(mask).view;
  for (let i = 0; i < view.length; i++) view[i]! &= ~other[i]!;
  for (let i = tail; i < target.length; i++) target[i]! &= ~mask[i]!;
}

/** target &= mask, for masks of 0 and 255 that start on a word. */
export function keepIn(target: Uint8Array, mask: Uint8Array): void {
  const { view, tail } = words(target);
  const other = words(mask).view;
  for (let i = 0; i < view.length; i++) view[i]! &= other[i]!;
  for (let i = tail; i < target.length; i++) target[i]! &= mask[i]!;
}

/** out = mask & ~taken, for masks of 0 and 255 that start on a word. */
export function maskWithout(mask: Uint8Array, taken: Uint8Array, out: Uint8Array): void {
  const { view, tail } = words(mask);
  const other = words(taken).view;
  const into = words(out).view;
  for (let i = 0; i < view.length; i++) into[i] = view[i]! & ~other[i]!;
  for (let i = tail; i < mask.length; i++) out[i] = mask[i]! & ~taken[i]!;
}

/** out = ~mask, for masks of 0 and 255 that start on a word. */
export function invertInto(out: Uint8Array, mask: Uint8Array): void {
  const { view, tail } = words(mask);
  const other = words(out).view;
  for (let i = 0; i < view.length; i++) other[i] = ~view[i]!;
  for (let i = tail; i < mask.length; i++) out[i] = ~mask[i]!;
}

/** Whether no pixel of a mask is set. */
export function isEmpty(mask: Uint8Array): boolean {
  const { view, tail } = words(mask);
  for (let i = 0; i < view.length; i++) if (view[i] !== 0) return false;
  for (let i = tail; i < mask.length; i++) if (mask[i] !== 0) return false;
  return true;
}

/** Where a run of one value that starts at `from` ends; `view` is the same bytes four at a time. */
export function runEnd(bytes: Uint8Array, view: Uint32Array, from: number, value: number): number {
  const four = Math.imul(value, 0x01010101) >>> 0;
  let i = from;
  while (i < bytes.length && bytes[i] === value) {
    i++;
    if ((i & 3) === 0) while (i + 4 <= bytes.length && view[i >> 2] === four) i += 4;
  }
  return i;
}

/** Bytes seen four at a time; they must start on a word. */
export function wordsOf(bytes: Uint8Array): Uint32Array {
  return words(bytes).view;
}

/** Calls back for runs of set pixels, from (included) to (excluded). */
export function forEachRun(mask: Uint8Array, visit: (from: number, to: number) => void): void {
  const { view } = words(mask);
  const { length } = mask;
  let i = 0;
  for (;;) {
    while (i < length && mask[i] === 0) {
      if ((i & 3) === 0) while (i + 4 <= length && view[i >> 2] === 0) i += 4;
      if (i < length && mask[i] === 0) i++;
    }
    if (i >= length) return;
    const from = i;
    while (i < length && mask[i] !== 0) {
      if ((i & 3) === 0) while (i + 4 <= length && view[i >> 2] === 0xffffffff) i += 4;
      if (i < length && mask[i] !== 0) i++;
    }
    visit(from, i);
  }
}
