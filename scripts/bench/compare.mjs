// npm run bench -- compare REV [PAIRS]: the films of this working copy against those of another revision, in pairs in one run, as ratios.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, symlinkSync } from 'node:fs';
import path from 'node:path';
import { MEMORY_ENV, root, say } from '../lib/system.mjs';

/** What is made: demo artwork as it is or as a picture of 300 dpi, how, and which films of it. */
const JOBS = [
  { name: 'one film of a drawing', artwork: 'harbour-kites.svg', options: ['--plate', '2'] },
  { name: 'the films of a drawing', artwork: 'harbour-kites.svg', options: [] },
  { name: 'the films of a drawing at 1440 dpi', artwork: 'rowers-crest.svg', options: ['--dpi', '1440'] },
  { name: 'the films of a picture', artwork: 'harbour-kites.svg', picture: true, options: [] },
];

/** The artwork of a job; a picture is drawn by libvips. */
async function artworkOf({ artwork, picture }, scratch) {
  const drawing = path.join(root, 'src/demo/artwork', artwork);
  if (!picture) return drawing;
  const { default: sharp } = await import('sharp');
  const file = path.join(scratch, `${path.parse(artwork).name}.png`);
  await sharp(drawing, { density: 300 }).resize({ width: 3600 }).png().toFile(file);
  return file;
}

/** A copy of a revision beside this one, built. */
function checkOut(revision, folder) {
  rmSync(folder, { recursive: true, force: true });
  execFileSync('git', ['worktree', 'prune'], { cwd: root });
  execFileSync('git', ['worktree', 'add', '--quiet', '--detach', folder, revision], { cwd: root });
  symlinkSync(path.join(root, 'node_modules'), path.join(folder, 'node_modules'));
  for (const script of ['buildKernels.mjs', 'buildWorker.mjs'])
    execFileSync(process.execPath, [path.join('scripts', script)], { cwd: folder, stdio: 'ignore' });
}

/** Seconds that the films of a job took by the command line of one side, and what they are. */
function run(side, job, artwork, scratch) {
  const out = path.join(scratch, 'out');
  rmSync(out, { recursive: true, force: true });
  const args = [
    'separate',
    artwork,
    '--method',
    'spot',
    '--width',
    '12in',
    '--garment',
    '#16233f',
    '--date',
    '2026-03-14',
    '--out',
    out,
    ...job.options,
  ];
  const done = spawnSync(process.execPath, [path.join(side, 'dist/cli.mjs'), ...args], {
    encoding: 'utf8',
    env: { ...process.env, ...MEMORY_ENV, KERAMEUS_ROOT: side, KERAMEUS_DIST: 'dist' },
  });
  if (done.status !== 0) throw new Error(`${path.basename(side)}: ${done.stderr}`);
  const { seconds } = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8'));
  const hash = createHash('sha256');
  for (const name of readdirSync(out)
    .filter((each) => each.endsWith('.tif'))
    .sort())
    hash.update(readFileSync(path.join(out, name)));
  const all = Object.values(seconds).reduce((sum, each) => sum + each, 0);
  return { films: seconds.films, all, bytes: hash.digest('hex') };
}

const median = (values) => [...values].sort((p, q) => p - q)[values.length >> 1];

export async function compareRevision(revision, pairs, scratch) {
  const folder = path.join(root, '.local/compare');
  mkdirSync(path.dirname(folder), { recursive: true });
  try {
    checkOut(revision, folder);
    say(`This copy against ${revision}, medians of ${pairs} pairs; below 1 this copy is faster:`);
    for (const job of JOBS) {
      const ratios = { films: [], all: [] };
      const artwork = await artworkOf(job, scratch);
      let same = true;
      for (let pair = 0; pair < pairs; pair++) {
        // Whoever is first in one pair is second in the next.
        const order = pair % 2 === 0 ? [root, folder] : [folder, root];
        const made = new Map(order.map((side) => [side, run(side, job, artwork, scratch)]));
        const [own, other] = [made.get(root), made.get(folder)];
        ratios.films.push(own.films / other.films);
        ratios.all.push(own.all / other.all);
        same &&= own.bytes === other.bytes;
      }
      const [films, all] = [ratios.films, ratios.all].map((each) => median(each).toFixed(2));
      say(
        `  ${job.name}: films ${films}, everything ${all}; films are ${same ? 'the same' : 'NOT the same'}`,
      );
    }
  } finally {
    if (existsSync(folder)) execFileSync('git', ['worktree', 'remove', '--force', folder], { cwd: root });
  }
}
