/** Pages of 64 KiB. */
const SECTION_MEMORY = 5;

/** Reads a number of WebAssembly's variable length (LEB128, WebAssembly Core 1.0, 5.2.2). */
function readNumber(bytes: Uint8Array, at: number): { readonly value: number; readonly next: number } {
  let [value, shift, next] = [0, 0, at];
  for (;;) {
    const byte = bytes[next++]!;
    value += (byte & 127) * 2 ** shift;
    if ((byte & 128) === 0) return { value, next };
    shift += 7;
  }
}

function writeNumber(value: number): number[] {
  const bytes: number[] = [];
  let rest = value;
  do {
    const byte = rest % 128;
    rest = Math.floor(rest / 128);
    bytes.push(rest > 0 ? byte | 128 : byte);
  } while (rest > 0);
  return bytes;
}

/**
 * A module whose own memory cannot grow beyond so many pages. Throws an Error for a module without a memory of its own.
 *
 * @param bytes a module of WebAssembly 1.0.
 */
export function capMemory(bytes: Uint8Array, mostPages: number): Uint8Array<ArrayBuffer> {
  let at = 8;
  while (at < bytes.length) {
    const id = bytes[at]!;
    const size = readNumber(bytes, at + 1);
    const end = size.next + size.value;
    if (id === SECTION_MEMORY) {
      const count = readNumber(bytes, size.next);
      const least = readNumber(bytes, count.next + 1);
      if (count.value !== 1 || least.value > mostPages) throw new Error('the module asks for more memory');
      const body = [1, 1, ...writeNumber(least.value), ...writeNumber(mostPages)];
      const section = [SECTION_MEMORY, ...writeNumber(body.length), ...body];
      const out = new Uint8Array(at + section.length + bytes.length - end);
      out.set(bytes.subarray(0, at));
      out.set(section, at);
      out.set(bytes.subarray(end), at + section.length);
      return out;
    }
    at = end;
  }
  throw new Error('the module has no memory of its own');
}
