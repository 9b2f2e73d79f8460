import { pdfPage, pdfStream } from './hostile/pdfFile';

/** A function from a tint to CMYK. */
const tint = (cmyk: string) => `<< /FunctionType 2 /Domain [0 1] /C0 [0 0 0 0] /C1 [${cmyk}] /N 1 >>`;

const SPACES = `/ColorSpace << /Teal [/Separation /Harbour#20Teal /DeviceCMYK ${tint('0.9 0.1 0.4 0')}]
  /Red [/Separation /Kiln#20Red /DeviceCMYK ${tint('0 0.9 0.8 0.1')}] /White [/Separation /White /DeviceCMYK ${tint('0 0 0 0')}]
  /Two 6 0 R /All [/Separation /All /DeviceCMYK ${tint('1 1 1 1')}] >>`;

const bytes = (count: number, at: (k: number) => number) =>
  Buffer.from(Array.from({ length: count }, (_, k) => at(k) & 255));

const INLINE = Buffer.concat([
  Buffer.from('q 12 0 0 12 200 60 cm BI /W 2 /H 2 /BPC 8 /CS /CMYK ID '),
  bytes(16, (k) => (k % 5) * 60 + 20),
  Buffer.from(' EI Q\n'),
]);

/**
 * A page of 3 by 4 in with all that names inks: solids, tints, overprint and knockout, two inks in one colour, a gradient between them, pictures of
 * both and of gray, all inks, and process colours as gray, RGB and CMYK, in a form and a pattern too.
 */
export const SPOT_PDF = pdfPage(
  pdfStream(
    Buffer.concat([
      Buffer.from(`/White cs 1 scn 15 135 180 140 re f
/Teal cs 1 scn 20 180 90 90 re f
/Red cs 0.5 scn 60 140 90 90 re f
/Over gs /Red cs 1 scn 90 200 90 70 re f /Out gs
/White cs 1 scn 30 190 20 20 re f
0 0 0 1 k 10 100 40 30 re f
0.2 0.4 0 0 k 60 100 40 30 re f
1 0 0 rg 110 100 40 30 re f
0.5 g 160 100 40 30 re f
q 20 60 176 25 re W n /Sweep sh Q
q 60 0 0 40 20 10 cm /Both Do Q
q 60 0 0 40 100 10 cm /Grey Do Q
/All cs 1 scn 2 2 6 6 re f
/Two cs 0.3 0.8 scn 170 10 30 30 re f
/Red CS 1 SCN 3 w 10 280 m 200 240 l S
q 1 0 0 1 4 150 cm /Form Do Q
/Pattern cs /Dots scn 2 60 14 30 re f
% /Teal cs 1 scn 0 0 216 288 re f
`),
      INLINE,
    ]),
  ),
  {
    box: '/MediaBox [0 0 216 288]',
    page: `/Resources << ${SPACES} /ExtGState << /Over << /OP true /op true >> /Out << /OP false /op false >> >>
  /Shading << /Sweep << /ShadingType 2 /ColorSpace 6 0 R /Coords [20 0 196 0] /Extend [true true]
    /Function << /FunctionType 2 /Domain [0 1] /C0 [0 1] /C1 [1 0] /N 1 >> >> >>
  /XObject << /Both 7 0 R /Grey 8 0 R /Form 9 0 R >> /Pattern << /Dots 10 0 R >> >>`,
    more: [
      pdfStream(
        '{ 1 index 0.9 mul 3 1 roll 0.9 mul exch pop 0 0 }',
        '/FunctionType 4 /Domain [0 1 0 1] /Range [0 1 0 1 0 1 0 1]',
      ),
      '[/DeviceN [/Harbour#20Teal /Kiln#20Red] /DeviceCMYK 5 0 R]',
      pdfStream(
        bytes(192, (k) => k * 97 + (k >> 3) * 31),
        '/Type /XObject /Subtype /Image /Width 12 /Height 8 /BitsPerComponent 8 /ColorSpace 6 0 R',
      ),
      pdfStream(
        bytes(64, (k) => (k % 32) * 8),
        '/Type /XObject /Subtype /Image /Width 32 /Height 2 /BitsPerComponent 8 /ColorSpace /DeviceGray',
      ),
      pdfStream(
        '/Teal cs 0.25 scn 0 0 8 20 re f 0 0 1 0 k 0 25 8 20 re f',
        `/Type /XObject /Subtype /Form /BBox [0 0 20 60] /Resources << ${SPACES} >>`,
      ),
      pdfStream(
        '/Red cs 1 scn 0 0 3.5 7 re f 0.75 g 3.5 0 3.5 7 re f',
        `/Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 7 7] /XStep 7 /YStep 7 /Resources << ${SPACES} >>`,
      ),
    ],
  },
);

/** The plates of that page, in the order in which they are found. */
export const SPOT_PLATES = ['Harbour Teal', 'Kiln Red', 'White', 'Cyan', 'Magenta', 'Yellow', 'Black'];

/** A colour space of one ink. */
export const separation = (name: string) => `[/Separation /${name} /DeviceCMYK ${tint('0.2 0.9 0.1 0')}]`;
