// A film of one plate, against what a general interpreter needs for it.
import { spawnSync } from 'node:child_process';
import { rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { root, say } from '../lib/system.mjs';
import { percentile } from './figures.mjs';

const PLATE = { width: 3900, height: 5700, dpi: 1440 };

/** A plate of 13 x 19 in at 300 dpi, tones from none to solid all over it; of a mostly empty one three fifths of the squares are bare. */
function plateBytes(mostlyEmpty) {
  const { width, height } = PLATE;
  const bytes = Buffer.alloc(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (mostlyEmpty && ((x >> 9) + (y >> 9)) % 5 < 3) continue;
      const [u, v] = [x / width - 0.5, y / height - 0.5];
      const wave = Math.sin(28 * Math.hypot(u, v) + 3 * u) * Math.cos(5 * v);
      bytes[y * width + x] = Math.round(127.5 + 127.5 * wave);
    }
  }
  return bytes;
}

/** Processor seconds of a whole process and its children, user and system. */
function processorTime(command, args, env = process.env) {
  const shell = 'TIMEFORMAT="%U %S"; time "$@" >/dev/null';
  const { stderr, status } = spawnSync('bash', ['-c', shell, 'bash', command, ...args], {
    env: { ...env, LC_ALL: 'C' },
    encoding: 'utf8',
  });
  if (status !== 0) throw new Error(`${command}: ${stderr}`);
  const [user, system] = stderr.trim().split('\n').at(-1).split(' ').map(Number);
  return user + system;
}

/** One plate to a film, against Ghostscript doing the same, in paired runs. */
export function benchScreen(scratch) {
  const { width, height, dpi } = PLATE;
  const cache = path.join(scratch, 'tiles');
  const env = { ...process.env, KERAMEUS_ROOT: root, KERAMEUS_CACHE: cache };
  // Where it is set, each start of Node reads certificates for a tenth of a second; a film needs none.
  delete env.NODE_EXTRA_CA_CERTS;
  const at = (name) => path.join(scratch, name);
  say(
    `\nOne plate of 13 x 19 in to a film at ${dpi} dpi, processor time of the whole process over Ghostscript's:`,
  );
  for (const [name, mostlyEmpty] of [
    ['tones all over', false],
    ['three fifths bare', true],
  ]) {
    const bytes = plateBytes(mostlyEmpty);
    writeFileSync(at('plate.raw'), bytes);
    writeFileSync(at('plate.pgm'), Buffer.concat([Buffer.from(`P5\n${width} ${height}\n255\n`), bytes]));
    writeFileSync(
      at('film.ps'),
      `/spot {180 mul cos exch 180 mul cos add 2 div} def 45 22.5 /spot load setscreen
936 1368 scale /DeviceGray setcolorspace /F (${at('plate.raw')}) (r) file def
<< /ImageType 1 /Width ${width} /Height ${height} /BitsPerComponent 8 /Decode [1 0]
/ImageMatrix [${width} 0 0 -${height} 0 ${height}] /DataSource F >> image showpage
`,
    );
    const interpreter = () =>
      processorTime('gs', [
        ...['-q', '-dNOPAUSE', '-dBATCH', `--permit-file-read=${scratch}/`, `-r${dpi}`, '-g18720x27360'],
        ...['-sDEVICE=tiffg4', `-sOutputFile=${at('gs.tif')}`, at('film.ps')],
      ]);
    const ours = (edges) =>
      processorTime(
        process.execPath,
        [
          path.join(root, 'dist/cli.mjs'),
          ...['screen', at('plate.pgm'), '--width', '13in', '--dpi', String(dpi), '--edges', edges],
          ...['--shape', 'square-round', '--out', at('ours.tif')],
        ],
        env,
      );
    for (const [kind, edges, warm] of [
      ['as they are, tile in the cache', 'nearest', true],
      ['as they are, tile made anew', 'nearest', false],
      ['interpolated, tile in the cache', 'linear', true],
    ]) {
      const pairs = [];
      for (let k = 0; k < 5; k++) {
        if (!warm) rmSync(cache, { recursive: true, force: true });
        else ours(edges);
        pairs.push([ours(edges), interpreter()]);
      }
      const ratios = pairs.map(([a, b]) => a / b);
      const seconds = (k) =>
        percentile(
          pairs.map((pair) => pair[k]),
          0.5,
        ).toFixed(2);
      say(
        `  ${`${name}, ${kind}`.padEnd(56)} ${percentile(ratios, 0.5).toFixed(2)} (${Math.min(...ratios).toFixed(2)} to ${Math.max(...ratios).toFixed(2)}); ${seconds(0)} s against ${seconds(1)} s`,
      );
    }
  }
}
