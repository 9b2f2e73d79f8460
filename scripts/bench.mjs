// npm run bench [-- kernels films table screen work]: figures and ratios from one run, through the real worker and the real page.
// Nothing is asserted. `screen` compares a film with what a general interpreter needs for it; `work` is ten minutes of scripted work
// on the page, and runs only when it is named.
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { databaseFolder, dropPostgres, startPostgres } from './lib/postgres.mjs';
import {
  PACKAGES,
  endChild,
  ensureBuild,
  ensureNodePackages,
  ensureSystemPackages,
  freePort,
  root,
  runNode,
  say,
  startWeb,
  startWorker,
} from './lib/system.mjs';

ensureSystemPackages([PACKAGES.postgres, PACKAGES.chromium]);
ensureNodePackages();
ensureBuild();
const { chromium } = await import('@playwright/test');
const { CHROMIUM } = await import('./lib/browser.mjs');
const { build } = await import('esbuild');

const scratch = mkdtempSync(path.join(tmpdir(), 'kerameus-bench-'));
const folder = databaseFolder(`bench-database-${process.pid}`);
let web = null;
let worker = null;

/** Artwork for a print of 12 in by so many inches with a given number of inks besides white. */
function drawing(heightIn, inks, across = 12) {
  const colours = ['#e8b23a', '#c8382e', '#2e7d8c', '#3c8a50', '#8a4f9e', '#e07a2f', '#111111'].slice(
    0,
    inks,
  );
  const rows = Math.round(heightIn);
  const cells = [];
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < across; x++) {
      const colour = colours[(x + y * 5) % colours.length];
      cells.push(
        `<path d="M${x * 100 + 50} ${y * 100 + 6}l44 44-44 44-44-44z" fill="${colour}"/>`,
        `<circle cx="${x * 100 + 50}" cy="${y * 100 + 50}" r="${8 + ((x * 7 + y * 3) % 12)}" fill="#ffffff"/>`,
      );
    }
  }
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${across}in" height="${rows}in" viewBox="0 0 ${across * 100} ${rows * 100}">${cells.join('')}</svg>`;
}

function percentile(values, share) {
  const sorted = [...values].sort((p, q) => p - q);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];
}

function distribution(name, values) {
  const [median, p95, most] = [percentile(values, 0.5), percentile(values, 0.95), Math.max(...values)];
  say(
    `  ${name.padEnd(34)} median ${median.toFixed(0).padStart(5)} ms   95 % ${p95.toFixed(0).padStart(5)} ms   most ${most.toFixed(0).padStart(5)} ms   of ${values.length}`,
  );
}

/** The most memory a process had resident, in MB; threads are part of it. */
function peakMemory(pid) {
  return Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1]) / 1024;
}

async function api(base, route, options = {}) {
  const response = await fetch(`${base}${route}`, options);
  if (!response.ok) throw new Error(`${route}: ${response.status} ${await response.text()}`);
  return response.json();
}

async function finished(base, taskId) {
  for (;;) {
    const task = await api(base, `/api/tasks/${taskId}`);
    if (['done', 'failed', 'cancelled'].includes(task.state)) return task;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

async function upload(base, name, bytes) {
  const { taskId } = await api(base, '/api/uploads', {
    method: 'POST',
    headers: { 'x-file-name': name, 'x-file-size': String(bytes.length) },
    body: bytes,
  });
  return (await finished(base, taskId)).result.jobId;
}

async function withSheet(base, id, change) {
  const job = await api(base, `/api/jobs/${id}`);
  return api(base, `/api/jobs/${id}`, {
    method: 'PATCH',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ base: job.version, sheet: change(job.sheet) }),
  });
}

async function films(base, id) {
  const { version } = await api(base, `/api/jobs/${id}`);
  const { taskId } = await api(base, `/api/jobs/${id}/films`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ version }),
  });
  return finished(base, taskId);
}

async function rendered(svg, width = 3600) {
  const { Resvg } = await import('@resvg/resvg-js');
  return new Resvg(svg, { fitTo: { mode: 'width', value: width } }).render().asPng();
}

async function settle(page) {
  await page.waitForFunction(
    () => document.querySelector('[data-testid=table-settled]')?.dataset.busy === 'false',
    undefined,
    { polling: 'raf' },
  );
}

/**
 * Has the page time gestures itself, from the event that begins one to the first frame in which it is done: what drives the
 * browser takes time of its own.
 */
async function installClock(page) {
  await page.evaluate(() => {
    window.__times = [];
    window.__isDone = null;
    const begin = (event) => {
      const isDone = window.__isDone;
      if (!isDone) return;
      window.__isDone = null;
      const look = () => {
        if (isDone()) window.__times.push(performance.now() - event.timeStamp);
        else requestAnimationFrame(look);
      };
      requestAnimationFrame(look);
    };
    for (const kind of ['keydown', 'pointerdown', 'pointermove', 'wheel']) {
      window.addEventListener(kind, begin, { capture: true });
    }
    window.__clocks = {
      settled() {
        const sign = document.querySelector('[data-testid=table-settled]');
        const before = sign.dataset.drawn;
        return () => sign.dataset.busy === 'false' && sign.dataset.drawn !== before;
      },
      reading() {
        const readings = document.querySelector('[aria-label=Readings]');
        const before = readings.textContent;
        return () => readings.textContent !== before;
      },
    };
  });
}

/** Milliseconds from the gesture's event to the frame in which the clock finds it done. */
async function timed(page, clock, gesture) {
  const count = await page.evaluate((name) => {
    window.__isDone = window.__clocks[name]();
    return window.__times.length;
  }, clock);
  await gesture();
  await page.waitForFunction((before) => window.__times.length > before, count, { polling: 'raf' });
  return page.evaluate(() => window.__times.at(-1));
}

/** From a move of the pointer to its reading, over the print. */
async function measureReadings(page, name) {
  const box = await page.getByTestId('table').boundingBox();
  const times = [];
  for (let k = 0; k < 40; k++) {
    const x = box.x + box.width * (0.35 + (k % 8) * 0.04);
    const y = box.y + box.height * (0.3 + k * 0.01);
    times.push(await timed(page, 'reading', () => page.mouse.move(x, y)));
  }
  // The first ones fetch artwork at the film's resolution.
  distribution(`${name}: readings`, times.slice(10));
}

/**
 * What the page and its workers hold, in words: all that is resident, the browser's own program among it, and of that what is the
 * process's own (memory that no file stands for), which is what the browser's task manager tells.
 */
async function pageMemory(browser) {
  const session = await browser.newBrowserCDPSession();
  const { processInfo } = await session.send('SystemInfo.getProcessInfo');
  await session.detach();
  let most = [0, 0];
  for (const { type, id } of processInfo) {
    if (type !== 'renderer') continue;
    const status = readFileSync(`/proc/${id}/status`, 'utf8');
    const mb = (name) => Number(new RegExp(`${name}:\\s+(\\d+)`).exec(status)[1]) / 1024;
    if (mb('VmRSS') > most[0]) most = [mb('VmRSS'), mb('RssAnon') + mb('VmSwap')];
  }
  return `${most[0].toFixed(0)} MB resident, ${most[1].toFixed(0)} MB of it its own`;
}

/** A series of controls, each timed from the gesture to the settled table. */
async function measureControls(page, name) {
  const times = { ink: [], fit: [], view: [], lift: [] };
  const settled = async (kind, gesture) => times[kind].push(await timed(page, 'settled', gesture));
  await page.getByRole('tab', { name: 'Fit' }).click();
  const choke = page.getByLabel('Choke', { exact: true });
  const table = page.getByRole('application');
  for (let k = 0; k < 12; k++) {
    await choke.fill(`${0.12 + 0.01 * k} mm`);
    await settled('fit', () => choke.press('Enter'));
    await table.focus();
    await settled('lift', () => page.keyboard.press('2'));
    await settled('view', () => page.keyboard.press('ArrowLeft'));
    await settled('view', () => page.keyboard.press(k % 2 ? '-' : '+'));
  }
  await page.getByRole('tab', { name: 'Plates' }).click();
  const code = page.getByLabel('Ink colour, code');
  for (let k = 0; k < 12; k++) {
    await code.fill(`#c03${(100 + k * 11).toString(16).padStart(3, '0')}`);
    await settled('ink', () => code.press('Enter'));
  }
  distribution(`${name}: a change of ink`, times.ink);
  distribution(`${name}: a change of choke`, times.fit);
  distribution(`${name}: a plate lifted`, times.lift);
  distribution(`${name}: pan and zoom to settled`, times.view);
  distribution(`${name}: all of them`, Object.values(times).flat());
}

async function measurePage(base, id, name) {
  const browser = await chromium.launch(CHROMIUM);
  const opened = [];
  for (let k = 0; k < 5; k++) {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const start = performance.now();
    await page.goto(`${base}/jobs/${id}`);
    await settle(page);
    opened.push(performance.now() - start);
    await page.close();
  }
  distribution(`${name}: open to first print`, opened);
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`${base}/jobs/${id}`);
  await settle(page);
  await page.waitForTimeout(3000);
  await installClock(page);
  await measureControls(page, name);
  await page.keyboard.press('0');
  await settle(page);
  await measureReadings(page, name);
  say(`  ${`${name}: memory of the page`.padEnd(34)} ${await pageMemory(browser)}, after the series`);
  await browser.close();
}

/** Share of the machine's time that others had: figures of a run with much of it say little. */
function stolenTime() {
  const [user, nice, system, idle, wait, irq, soft, steal] = readFileSync('/proc/stat', 'utf8')
    .split('\n')[0]
    .trim()
    .split(/\s+/)
    .slice(1)
    .map(Number);
  return { steal, busy: user + nice + system + irq + soft + steal, all: idle + wait };
}

async function saySteal(work) {
  const before = stolenTime();
  await work();
  const after = stolenTime();
  const share = (after.steal - before.steal) / Math.max(1, after.busy - before.busy);
  say(`  (of the processor time asked for, ${(100 * share).toFixed(0)} % went to others)`);
}

const WORK_MINUTES = 10;

/** Scripted work for ten minutes; the page's memory each minute. */
async function measureWork(base, id) {
  const browser = await chromium.launch(CHROMIUM);
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`${base}/jobs/${id}`);
  await settle(page);
  const table = page.getByRole('application');
  const steps = ['Artwork', 'Plates', 'Fit', 'Dots', 'Film'];
  const keys = [
    '+',
    'ArrowLeft',
    '2',
    '+',
    'ArrowDown',
    '2',
    '+',
    'ArrowRight',
    '-',
    '-',
    '3',
    '3',
    '-',
    '0',
  ];
  for (let minute = 1; minute <= WORK_MINUTES; minute++) {
    const until = performance.now() + 60_000;
    let gestures = 0;
    for (let k = 0; performance.now() < until; k++) {
      await page.getByRole('tab', { name: steps[k % steps.length] }).click();
      if (steps[k % steps.length] === 'Fit') {
        const choke = page.getByLabel('Choke', { exact: true });
        await choke.fill(`${0.12 + 0.01 * (k % 12)} mm`);
        await choke.press('Enter');
        await settle(page);
      }
      await table.focus();
      for (const key of keys) {
        await page.keyboard.press(key);
        await settle(page);
        gestures++;
      }
      const box = await table.boundingBox();
      await page.mouse.move(box.x + box.width * (0.3 + (k % 9) * 0.05), box.y + box.height / 2);
    }
    say(
      `  ${`after ${minute} min, ${gestures} gestures in the last`.padEnd(42)} ${await pageMemory(browser)}`,
    );
  }
  await browser.close();
}

async function benchKernels() {
  say('Kernels, plain against compiled, best of four:');
  await build({
    absWorkingDir: root,
    entryPoints: ['tests/bench/kernels.ts'],
    outfile: path.join(scratch, 'kernels.mjs'),
    bundle: true,
    platform: 'node',
    format: 'esm',
    logLevel: 'warning',
  });
  runNode([path.join(scratch, 'kernels.mjs')], { ...process.env, KERAMEUS_ROOT: root });
}

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
function benchScreen() {
  const { width, height, dpi } = PLATE;
  const cache = path.join(scratch, 'tiles');
  const env = { ...process.env, KERAMEUS_ROOT: root, KERAMEUS_CACHE: cache };
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

async function start() {
  const port = await freePort();
  const base = `http://127.0.0.1:${port}`;
  const env = { ...process.env, KERAMEUS_DATABASE_URL: startPostgres(folder, await freePort()) };
  runNode(['dist/migrate.mjs'], env);
  mkdirSync(path.join(root, '.local'), { recursive: true });
  const log = openSync(path.join(root, '.local', 'bench.log'), 'w');
  worker = startWorker({ env, log });
  web = await startWeb({ port, env, log });
  return base;
}

async function benchFilms(base) {
  const art = drawing(14, 3);
  writeFileSync(path.join(scratch, 'art.svg'), art);
  const vector = await upload(base, 'bench.svg', Buffer.from(art));
  const pixels = await upload(base, 'bench.png', await rendered(art));
  say(
    `\nFilm sets at 720 dpi, 12 in wide, through the queue and the worker (its peak memory before them ${peakMemory(worker.pid).toFixed(0)} MB):`,
  );
  for (const [name, id, sheetHeightMm, heightIn] of [
    ['vector, 14 in, 5 plates', vector, 482.6, 14],
    ['300 dpi pixels, 14 in, 5 plates', pixels, 482.6, 14],
  ]) {
    await withSheet(base, id, (sheet) => ({ ...sheet, film: { ...sheet.film, sheetHeightMm } }));
    const task = await films(base, id);
    const count = task.files.filter((file) => file.name.endsWith('.tif')).length;
    say(
      `  ${name.padEnd(34)} ${task.result.seconds.toFixed(1)} s for ${count} films of ${heightIn + 5} in; worker's peak memory so far ${peakMemory(worker.pid).toFixed(0)} MB`,
    );
  }
  const long = await upload(base, 'long.svg', Buffer.from(drawing(28, 3)));
  await withSheet(base, long, (sheet) => ({
    ...sheet,
    print: { widthMm: 304.8, heightMm: 711.2 },
    film: { ...sheet.film, sheetHeightMm: 838.2 },
  }));
  const before = peakMemory(worker.pid);
  const task = await films(base, long);
  say(
    `  ${'vector, 28 in, 5 plates'.padEnd(34)} ${task.result.seconds.toFixed(1)} s; twice the length takes ${(peakMemory(worker.pid) / before).toFixed(2)} times the peak memory`,
  );
}

async function benchTable(base, sections) {
  const eight = drawing(15, 6, 13);
  const large = await upload(base, 'eight.svg', Buffer.from(eight));
  const largePixels = await upload(base, 'eight.png', await rendered(eight, 3900));
  say('\nThe page in Chromium, 1280 x 800, a print of 13 x 15 in with 8 plates:');
  for (const [name, id] of [
    ['vector', large],
    ['pixels', largePixels],
  ]) {
    await withSheet(base, id, (sheet) => ({ ...sheet, print: { widthMm: 330.2, heightMm: 381 } }));
    if (sections.has('table')) await saySteal(() => measurePage(base, id, name));
  }
  if (!sections.has('work')) return;
  say(`\n${WORK_MINUTES} minutes of scripted work on it, pixels; memory of the page:`);
  await measureWork(base, largePixels);
}

async function main() {
  const named = process.argv.slice(2);
  const sections = new Set(named.length > 0 ? named : ['kernels', 'films', 'table', 'screen']);
  if (sections.has('kernels')) await benchKernels();
  if (sections.has('screen')) {
    ensureSystemPackages([PACKAGES.ghostscript]);
    await saySteal(benchScreen);
  }
  if (!['films', 'table', 'work'].some((section) => sections.has(section))) return;
  const base = await start();
  if (sections.has('films')) await benchFilms(base);
  if (sections.has('table') || sections.has('work')) await benchTable(base, sections);
}

try {
  await main();
} finally {
  await Promise.all([endChild(web), endChild(worker)]);
  dropPostgres(folder);
  rmSync(scratch, { recursive: true, force: true });
}
