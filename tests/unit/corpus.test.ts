import { runBundled } from '../bundled';

test('drawings and pictures of two packages print as they are drawn, or findings say where they do not', async () => {
  const said = await runBundled('tests/corpus/corpus.ts', ['--drawings', '24', '--pictures', '1', '--icons']);
  const table = JSON.parse(said.trim().split('\n').at(-1)!) as {
    artworks: number;
    silent: number;
    lost: number;
    refused: number;
    mean: string;
  };
  expect(table.artworks).toBeGreaterThan(20);
  expect(table).toMatchObject({ silent: 0, lost: 0, refused: 0 });
  // CIEDE2000 of flat pieces against Debian's librsvg, on black, white and red garments.
  expect(Number(table.mean)).toBeLessThan(1);
}, 400_000);
