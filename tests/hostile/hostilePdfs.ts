import { deflateSync } from 'node:zlib';
import type { HostileFile } from './hostileFiles';
import { pdfFile, pdfPage, pdfStream } from './pdfFile';

const RED = '0.8 0.2 0.2 rg 20 20 100 80 re f\n';

function file(name: string, bytes: Uint8Array, refused: boolean): HostileFile {
  return { name, fileName: `${name}.pdf`, bytes, refused };
}

/** A form that draws others. */
function form(content: string, forms: Readonly<Record<string, number>>): Buffer {
  const names = Object.entries(forms).map(([name, object]) => `/${name} ${object} 0 R`);
  return pdfStream(
    content,
    `/Type /XObject /Subtype /Form /BBox [0 0 200 160] /Resources << /XObject << ${names.join(' ')} >> >>`,
  );
}

/** PDFs that are broken, endless, far too large, or want more than to be drawn. */
export function* hostilePdfs(): Generator<HostileFile> {
  const good = pdfPage(RED);
  yield file('a PDF that is whole', good, false);
  yield file('a PDF of its first bytes', good.subarray(0, 12), true);
  yield file('a PDF that is cut off', good.subarray(0, 150), true);
  yield file(
    'a PDF without pages',
    pdfFile(['<< /Type /Catalog /Pages 2 0 R >>', '<< /Type /Pages /Kids [] /Count 0 >>']),
    true,
  );
  yield file(
    'a PDF whose pages hold themselves',
    pdfFile(['<< /Type /Catalog /Pages 2 0 R >>', '<< /Type /Pages /Kids [2 0 R 2 0 R] /Count 2 >>']),
    true,
  );
  yield file(
    'a PDF that says it has a thousand million pages',
    pdfFile(['<< /Type /Catalog /Pages 2 0 R >>', '<< /Type /Pages /Kids [] /Count 1000000000 >>']),
    true,
  );
  yield file('a page of no size', pdfPage(RED, { box: '/MediaBox [0 0 0 0]' }), true);
  yield file('a page without end', pdfPage(RED, { box: '/MediaBox [0 0 1000000000 1000000000]' }), true);
  yield file('a page whose size is no number', pdfPage(RED, { box: '/MediaBox [0 0 /wide (high)]' }), false);
  yield file('an empty page', pdfPage(''), true);
  yield file(
    'a form that draws itself',
    pdfPage('/F Do', {
      page: '/Resources << /XObject << /F 5 0 R >> >>',
      more: [form(`${RED}/F Do`, { F: 5 })],
    }),
    false,
  );
  yield file(
    'forms of forms, 8^10 of them',
    pdfPage('/F Do', {
      page: '/Resources << /XObject << /F 5 0 R >> >>',
      more: Array.from({ length: 10 }, (_, k) =>
        form(k < 9 ? '/F Do '.repeat(8) : RED.repeat(8), { F: k + 6 }),
      ),
    }),
    true,
  );
  yield file(
    'a page of 300 MB of nothing in 300 kB',
    pdfPage(pdfStream(deflateSync(Buffer.alloc(3e8, ' ')), '/Filter /FlateDecode')),
    true,
  );
  yield file(
    'a picture of 30,000 x 30,000 pixels in little',
    pdfPage('200 0 0 160 0 0 cm /I Do', {
      page: '/Resources << /XObject << /I 5 0 R >> >>',
      more: [
        pdfStream(
          deflateSync(Buffer.alloc(3e7)),
          '/Type /XObject /Subtype /Image /Width 30000 /Height 30000 /ColorSpace /DeviceRGB /BitsPerComponent 8 /Filter /FlateDecode',
        ),
      ],
    }),
    true,
  );
  const actions = '/S /JavaScript /JS (app.launchURL\\("http://127.0.0.1:9/"\\))';
  yield file(
    'a PDF that wants to run something',
    pdfPage(RED, {
      catalogue: `/OpenAction << ${actions} /Next << /S /Launch /F (/bin/true) >> >>`,
      page: `/AA << /O << ${actions} >> >>`,
    }),
    false,
  );
  yield file(
    'a PDF whose page is another file',
    pdfPage(pdfStream('', '/F (/etc/passwd) /FFilter []')),
    true,
  );
}
