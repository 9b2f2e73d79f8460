/** A PDF of objects that are written as they are, numbered from 1 on, the first of them its catalogue. Nothing of it is checked. */
export function pdfFile(objects: readonly (string | Buffer)[]): Buffer {
  const parts: Buffer[] = [Buffer.from('%PDF-1.7\n')];
  let length = parts[0]!.length;
  const offsets = objects.map((object, k) => {
    const at = length;
    const part = Buffer.concat([
      Buffer.from(`${k + 1} 0 obj\n`),
      Buffer.from(object),
      Buffer.from('\nendobj\n'),
    ]);
    parts.push(part);
    length += part.length;
    return at;
  });
  const rows = offsets.map((offset) => `${String(offset).padStart(10, '0')} 00000 n \n`).join('');
  parts.push(
    Buffer.from(
      `xref\n0 ${objects.length + 1}\n0000000000 65535 f \n${rows}trailer\n<< /Size ${objects.length + 1} /Root 1 0 R >>\nstartxref\n${length}\n%%EOF\n`,
    ),
  );
  return Buffer.concat(parts);
}

/** A stream object. @param dictionary its entries beside the length. */
export function pdfStream(content: string | Buffer, dictionary = ''): Buffer {
  const bytes = Buffer.from(content);
  return Buffer.concat([
    Buffer.from(`<< /Length ${bytes.length} ${dictionary} >>\nstream\n`),
    bytes,
    Buffer.from('\nendstream'),
  ]);
}

/**
 * A PDF of one page.
 *
 * @param content of the page.
 * @param page its entries beside its box.
 * @param more objects, numbered from 5 on.
 */
export function pdfPage(
  content: string | Buffer,
  {
    page = '',
    box = '/MediaBox [0 0 200 160]',
    catalogue = '',
    more = [] as readonly (string | Buffer)[],
  } = {},
): Buffer {
  return pdfFile([
    `<< /Type /Catalog /Pages 2 0 R ${catalogue} >>`,
    '<< /Type /Pages /Kids [3 0 R] /Count 1 >>',
    `<< /Type /Page /Parent 2 0 R ${box} /Contents 4 0 R ${page} >>`,
    Buffer.isBuffer(content) ? content : pdfStream(content),
    ...more,
  ]);
}
