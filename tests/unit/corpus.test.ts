import { runBundled } from '../bundled';

test('drawings and pictures of two packages print as they are drawn, or findings say where they do not', async () => {
  const said = await runBundled('tests/corpus/corpus.ts', [
    '--drawings',
    '24',
    '--pictures',
    '1',
    '--icons',
    '--flat',
    '20',
  ]);
  const table = JSON.parse(said.trim().split('\n').at(-1)!) as {
    artworks: number;
    silent: number;
    lost: number;
    refused: number;
    mean: string;
    flat: { name: string; colours: number; mean: number; lost: string[] }[];
  };
  expect(table.artworks).toBeGreaterThan(20);
  expect(table).toMatchObject({ silent: 0, lost: 0, refused: 0 });
  // CIEDE2000 of flat pieces against Debian's librsvg, on black, white and red garments.
  expect(Number(table.mean)).toBeLessThan(1);
  // Plates of flat pieces of 2 to 12 colours, laid over each other, against the same rendering: edges and all.
  expect(table.flat).toHaveLength(20);
  expect(table.flat.filter(({ mean, lost }) => mean >= 1 || lost.length > 0)).toEqual([]);
  expect(new Set(table.flat.map(({ colours }) => colours)).size).toBeGreaterThanOrEqual(6);
}, 600_000);
