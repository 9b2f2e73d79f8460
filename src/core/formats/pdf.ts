/** One page: a bilevel Group 4 image on a sheet of exact size. */
export interface FilmPage {
  /** Page and sheet size. */
  readonly widthMm: number;
  readonly heightMm: number;
  readonly dpi: number;
  readonly widthPx: number;
  readonly heightPx: number;
  /** Bytes of the page's stream. */
  readonly length: number;
}

/** Where a page's stream belongs between the pieces of a document. */
export interface PageStream {
  readonly page: number;
}

const POINTS_PER_MM = 72 / 25.4;

function number(value: number): string {
  return value.toFixed(5).replace(/\.?0+$/, '');
}

/** A text string of PDF: UTF-16 with a mark, in hexadecimal, so that any name can stand in it. */
function textString(text: string): string {
  let hex = 'FEFF';
  for (let i = 0; i < text.length; i++) hex += text.charCodeAt(i).toString(16).toUpperCase().padStart(4, '0');
  return `<${hex}>`;
}

/**
 * The pieces of a PDF (ISO 32000-1) with a page for each film, in order: bytes, and places where the
 * caller puts a page's stream. Image pixels are exactly 1/dpi wide and anchored at the top left
 * of the sheet; the page boxes keep the sheet's exact size.
 *
 * @param id 16 bytes or more in hexadecimal, made from the content, so that equal films give equal files.
 */
export function* filmPdf(
  pages: readonly FilmPage[],
  title: string,
  id: string,
): Generator<Uint8Array | PageStream> {
  const encoder = new TextEncoder();
  const offsets: number[] = [];
  let length = 0;
  const put = (text: string): Uint8Array => {
    const bytes = encoder.encode(text);
    length += bytes.length;
    return bytes;
  };
  // A comment of four bytes above 127 tells transports that the file is binary (7.5.2).
  const head = Uint8Array.from([...encoder.encode('%PDF-1.4\n%'), 0xe2, 0xe3, 0xcf, 0xd3, 10]);
  length += head.length;
  yield head;

  const firstPage = 4;
  const pageObject = (index: number) => firstPage + index * 3;
  offsets[1] = length;
  yield put(
    '1 0 obj\n<< /Type /Catalog /Pages 2 0 R /ViewerPreferences << /PrintScaling /None >> >>\nendobj\n',
  );
  offsets[2] = length;
  const kids = pages.map((_, index) => `${pageObject(index)} 0 R`).join(' ');
  yield put(`2 0 obj\n<< /Type /Pages /Kids [${kids}] /Count ${pages.length} >>\nendobj\n`);
  offsets[3] = length;
  yield put(`3 0 obj\n<< /Title ${textString(title)} /Producer (Kerameus) >>\nendobj\n`);

  for (const [index, page] of pages.entries()) {
    const object = pageObject(index);
    const width = page.widthMm * POINTS_PER_MM;
    const height = page.heightMm * POINTS_PER_MM;
    const imageWidth = (page.widthPx * 72) / page.dpi;
    const imageHeight = (page.heightPx * 72) / page.dpi;
    const box = `[0 0 ${number(width)} ${number(height)}]`;
    offsets[object] = length;
    yield put(
      `${object} 0 obj\n<< /Type /Page /Parent 2 0 R /MediaBox ${box} /CropBox ${box} /TrimBox ${box} ` +
        `/Resources << /XObject << /Film ${object + 2} 0 R >> >> /Contents ${object + 1} 0 R >>\nendobj\n`,
    );
    const draw = `q\n${number(imageWidth)} 0 0 ${number(imageHeight)} 0 ${number(height - imageHeight)} cm\n/Film Do\nQ\n`;
    offsets[object + 1] = length;
    yield put(`${object + 1} 0 obj\n<< /Length ${draw.length} >>\nstream\n${draw}endstream\nendobj\n`);
    offsets[object + 2] = length;
    yield put(
      `${object + 2} 0 obj\n<< /Type /XObject /Subtype /Image /Width ${page.widthPx} /Height ${page.heightPx} ` +
        `/ColorSpace /DeviceGray /BitsPerComponent 1 /Interpolate false /Filter /CCITTFaxDecode ` +
        `/DecodeParms << /K -1 /Columns ${page.widthPx} /Rows ${page.heightPx} /BlackIs1 false >> ` +
        `/Length ${page.length} >>\nstream\n`,
    );
    length += page.length;
    yield { page: index };
    yield put('\nendstream\nendobj\n');
  }

  const count = firstPage + pages.length * 3;
  const table = length;
  let xref = `xref\n0 ${count}\n0000000000 65535 f \n`;
  for (let object = 1; object < count; object++) {
    xref += `${String(offsets[object]).padStart(10, '0')} 00000 n \n`;
  }
  yield put(
    `${xref}trailer\n<< /Size ${count} /Root 1 0 R /Info 3 0 R /ID [<${id}> <${id}>] >>\nstartxref\n${table}\n%%EOF\n`,
  );
}
