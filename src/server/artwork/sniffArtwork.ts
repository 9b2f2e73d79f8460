import { KerameusError } from '@/core/units';

export type ArtworkFormat = 'png' | 'jpeg' | 'webp' | 'tiff' | 'svg' | 'pdf';

const READABLE = 'Kerameus reads SVG, PDF, PNG, JPEG, WebP and TIFF.';

/** Whether a file is a zip, by its first bytes. */
export function isZip(bytes: Uint8Array): boolean {
  return startsWith(bytes, 0, [0x50, 0x4b, 0x03, 0x04]);
}

function startsWith(bytes: Uint8Array, at: number, signature: readonly number[]): boolean {
  return signature.every((byte, k) => bytes[at + k] === byte);
}

/**
 * What a file is, by its first bytes and by nothing else. Throws KerameusError `artwork-empty` or
 * `artwork-format`.
 *
 * @param bytes the first 4096 bytes or the whole file.
 */
export function sniffArtwork(bytes: Uint8Array): ArtworkFormat {
  if (bytes.length === 0) {
    throw new KerameusError({
      code: 'artwork-empty',
      parameter: 'artwork',
      message: 'The artwork file is empty.',
      remedy: 'Export or copy it again.',
    });
  }
  if (startsWith(bytes, 0, [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])) return 'png';
  if (startsWith(bytes, 0, [0xff, 0xd8, 0xff])) return 'jpeg';
  if (startsWith(bytes, 0, [0x52, 0x49, 0x46, 0x46]) && startsWith(bytes, 8, [0x57, 0x45, 0x42, 0x50]))
    return 'webp';
  if (
    startsWith(bytes, 0, [0x49, 0x49, 0x2a, 0]) ||
    startsWith(bytes, 0, [0x4d, 0x4d, 0, 0x2a]) ||
    startsWith(bytes, 0, [0x49, 0x49, 0x2b, 0]) ||
    startsWith(bytes, 0, [0x4d, 0x4d, 0, 0x2b])
  ) {
    return 'tiff';
  }
  if (looksLikePdf(bytes)) return 'pdf';
  if (looksLikeSvg(bytes)) return 'svg';
  throw refused('of a kind that it does not know');
}

function refused(what: string): KerameusError {
  return new KerameusError({
    code: 'artwork-format',
    parameter: 'artwork',
    message: `The artwork file is ${what}.`,
    remedy: `${READABLE} Export the artwork as one of these.`,
  });
}

/** The mark may stand a little behind the beginning of the file (ISO 32000-1, annex H, note 13). */
function looksLikePdf(bytes: Uint8Array): boolean {
  return Buffer.from(bytes.subarray(0, 1024)).includes('%PDF-');
}

function looksLikeSvg(bytes: Uint8Array): boolean {
  const utf16 = startsWith(bytes, 0, [0xff, 0xfe]) || startsWith(bytes, 0, [0xfe, 0xff]);
  if (utf16) return false;
  const text = new TextDecoder('utf-8')
    .decode(bytes.subarray(0, 65536))
    .replace(/^\uFEFF/, '')
    .trimStart();
  return text.startsWith('<') && /<(?:[\w-]+:)?svg[\s>/]/.test(text);
}
