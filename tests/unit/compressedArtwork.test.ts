import { paletteOf } from '@/core/sheet';
/** Pictures that compression has damaged, and what is full tone. */
import sharp from 'sharp';
import { SHADES, artwork, drawing, picture } from './separatedArtwork';

const POSTER =
  '<rect width="100" height="100" fill="#fff"/><path d="M10 10h50l-20 80h-30z" fill="#f92f60"/>' +
  '<path d="M60 10h30v80h-50z" fill="#573739"/><circle cx="75" cy="40" r="10" fill="#1d4fa0"/>';
const webp = artwork('a poster as WebP', () =>
  sharp(picture(drawing(POSTER), 900))
    .webp({ quality: 85 })
    .toBuffer(),
);
const jpeg = artwork('a poster as JPEG', () =>
  sharp(picture(drawing(POSTER), 900))
    .jpeg({ quality: 60 })
    .toBuffer(),
);

test.each([
  ['WebP', webp],
  ['JPEG', jpeg],
])('edges that %s smears are no transitions', (_name, art) => {
  const { analysis } = art();
  expect(analysis.colours).toHaveLength(4);
  expect(analysis.transitions).toEqual([]);
});

/** Shades that go on between any colours, with the grain of a camera: by a generator with a fixed seed (Numerical Recipes). */
function shaded(size: number, grain: number) {
  const pixels = new Uint8Array(size * size * 3);
  let state = 7;
  const noise = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return grain * (state / 2 ** 32 - 0.5);
  };
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      const at = (y * size + x) * 3;
      pixels[at] = 128 + 100 * Math.sin(x / 23 + y / 41) + noise();
      pixels[at + 1] = 128 + 100 * Math.sin(x / 31 - y / 17) + noise();
      pixels[at + 2] = 128 + 100 * Math.cos(x / 19 + y / 53) + noise();
    }
  }
  return sharp(pixels, { raw: { width: size, height: size, channels: 3 } });
}

const photos = [
  artwork('full tone', () => shaded(240, 0).png().toBuffer()),
  // What compression did to it must not pass for flat areas.
  artwork('a grainy photograph', () => shaded(480, 24).jpeg({ quality: 75 }).toBuffer()),
];
const cleanFlat = artwork('flat, clean', drawing(SHADES));
const lossyFlat = artwork('flat, badly compressed', () =>
  sharp(picture(drawing(SHADES), 600))
    .flatten({ background: '#fff' })
    .jpeg({ quality: 50 })
    .toBuffer(),
);

test.each([0, 1])('full tone is told, flat artwork is not: %d', (k) => {
  const { findings, analysis } = photos[k]!();
  expect(analysis.flatShare).toBeLessThan(0.6);
  expect(findings.find(({ code }) => code === 'full-tone')).toMatchObject({ severity: 'severe' });
  const flat = lossyFlat();
  expect(cleanFlat().analysis.flatShare).toBe(1);
  expect(flat.analysis.flatShare).toBeGreaterThan(0.8);
  expect(flat.findings.filter(({ code }) => code === 'full-tone')).toEqual([]);
});

const BLACK = { name: 'Black', colour: '#141416' };
const jpegOf = (inside: string, quality: number) => () =>
  sharp(picture(drawing(inside), 900))
    .flatten({ background: '#fff' })
    .jpeg({ quality })
    .toBuffer();

/** Many edges, where compression rings; nothing white inside. */
const RINGED =
  '<path d="M5 20h90M5 30h90M5 41h90M5 53h90M5 66h90M5 80h90" stroke="#6ad932" stroke-width="5" transform="rotate(7 50 50)"/>';
const ringed = artwork('stripes on paper as JPEG', jpegOf(RINGED, 60), { garment: BLACK });

test('what compression leaves of a dropped background along edges is no colour and prints nowhere', () => {
  const { sheet, survey, analysis } = ringed();
  expect(analysis.colours.map(({ rgb }) => rgb[1])).toEqual([255, expect.any(Number)]);
  const white = paletteOf(sheet).find(({ colour }) => colour === '#ffffff')!;
  const at = sheet.plates.findIndex(({ id }) => id === white.plateId);
  expect(at < 0 ? 0 : survey.plates[at]!.coverage).toBe(0);
});

const greys = artwork(
  'a dark grey beside a large brown as JPEG',
  jpegOf(
    '<rect x="5" y="5" width="90" height="90" fill="#553a31"/><rect x="30" y="40" width="12" height="12" fill="#424242"/><rect x="55" y="40" width="20" height="20" fill="#159183"/>',
    60,
  ),
);

test('a colour that fills an area is none that compression smeared, whatever others it lies between', () => {
  const { analysis } = greys();
  const near = analysis.colours.filter(({ rgb }) => rgb.every((code) => Math.abs(code - 0x42) < 4));
  expect(near).toHaveLength(1);
});

/** Orange to both edges of the page's white, so that an edge parts the two. */
const PAGE =
  '<linearGradient id="g"><stop stop-color="#fff"/><stop offset="1" stop-color="#b0b0b0"/></linearGradient>' +
  '<rect width="100" height="100" fill="#fff"/><rect x="10" y="10" width="80" height="80" fill="#e08020"/>' +
  '<rect x="30" y="30" width="40" height="40" fill="url(#g)"/>';
const GLOW =
  '<radialGradient id="g"><stop offset=".4" stop-color="#b0b0b0"/><stop offset="1" stop-color="#fff"/></radialGradient>' +
  '<rect width="100" height="100" fill="#fff"/><circle cx="50" cy="50" r="40" fill="url(#g)"/><circle cx="50" cy="50" r="15" fill="#b0b0b0"/>';
const onPaper = [PAGE, GLOW].map((inside, k) =>
  artwork(`white in a gradient ${k}`, () => Promise.resolve(picture(drawing(inside), 900)), {
    garment: BLACK,
  }),
);

test('white in a gradient inside of the design prints; in one that runs out on the dropped paper it does not', () => {
  const [page, glow] = onPaper.map((art) => art());
  const base = ({ sheet, survey }: NonNullable<typeof page>) =>
    survey.plates[sheet.plates.findIndex(({ role }) => role === 'underbase')]!.coverage;
  // 80 x 80 of 100 x 100, drawn back on all sides.
  expect(base(page!)).toBeGreaterThan(0.62);
  expect(base(page!)).toBeLessThan(0.64);
  // The disc of 40 % of the radius is solid; beyond it dots get smaller to the rim.
  expect(base(glow!)).toBeGreaterThan(Math.PI * 0.16 ** 2);
  expect(base(glow!)).toBeLessThan(0.7 * Math.PI * 0.4 ** 2);
});
