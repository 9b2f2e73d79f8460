/** A name that can be kept and shown: the format allows any bytes in it, up to 127, which are meant as UTF-8 (ISO 32000-1, 7.3.5). */
export function plainInk(name: string): string {
  // What reads the file leaves codes in small letters as they stand.
  const bytes = name.replace(/#([0-9a-f]{2})/gi, (_, code: string) =>
    String.fromCharCode(parseInt(code, 16)),
  );
  const plain = asUtf8(bytes)
    .replace(/[\u0000-\u001f\u007f]/g, '')
    .toWellFormed()
    .trim()
    .slice(0, 127);
  return plain || 'Ink without a name';
}

/** One character for each byte, as the text that they are; where they are none as they stand. */
function asUtf8(bytes: string): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(Buffer.from(bytes, 'latin1'));
  } catch {
    return bytes;
  }
}
