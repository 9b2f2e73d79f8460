// The page in Chromium: what a user waits for, and what it holds.
import { readFileSync } from 'node:fs';
import { chromium } from '@playwright/test';
import { CHROMIUM } from '../lib/browser.mjs';
import { say } from '../lib/system.mjs';
import { distribution, saySteal } from './figures.mjs';
import { drawing, rendered, upload, withSheet } from './jobs.mjs';

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

/** Between two looks at another place. */
const LOOK_MS = 700;

/** The film's own dots, pixel on pixel: each drag brings half a table of them that was not there before. */
async function measureDots(base, id, name) {
  await withSheet(base, id, (sheet) => {
    const order = sheet.layers[0].colours.map((colour) => colour.id);
    const tinted = ({ colourId }) => ({ colourId, tint: 0.35 + 0.05 * order.indexOf(colourId) });
    return {
      ...sheet,
      plates: sheet.plates.map((plate) => ({
        ...plate,
        sources: plate.sources.map((source) => ({ ...source, colours: source.colours.map(tinted) })),
      })),
    };
  });
  const browser = await chromium.launch(CHROMIUM);
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`${base}/jobs/${id}`);
  await settle(page);
  await installClock(page);
  await page.getByRole('application').focus();
  await page.keyboard.press('o');
  await settle(page);
  await page.keyboard.press('d');
  await settle(page);
  await page.waitForTimeout(3000);
  const box = await page.getByTestId('table').boundingBox();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  const [dx, dy] = [box.width / 4, box.height / 4];
  const times = [];
  for (let k = 0; k < 32; k++) {
    // Round a square, so that the print is never left.
    const [u, v] = [
      [1, 1],
      [-1, 1],
      [-1, -1],
      [1, -1],
    ][k >> 3];
    await page.mouse.move(x - u * dx, y - v * dy);
    await page.mouse.down();
    times.push(await timed(page, 'settled', () => page.mouse.move(x + u * dx, y + v * dy)));
    await page.mouse.up();
    await settle(page);
    await page.waitForTimeout(LOOK_MS);
  }
  // The first ones fetch artwork.
  distribution(`${name}: dots of another place`, times.slice(8));
  await browser.close();
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

const WORK_MINUTES = 10;
/** Four gestures a second, without a rest, is more than hands do: so the figures of two machines compare. */
const GESTURE_MS = 250;

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
        const rest = page.waitForTimeout(GESTURE_MS);
        await page.keyboard.press(key);
        await settle(page);
        await rest;
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

export async function benchTable({ base }, sections) {
  const eight = drawing(15, 6, 13);
  const large = await upload(base, 'eight.svg', Buffer.from(eight));
  const largePixels = await upload(base, 'eight.png', await rendered(eight, 3900));
  say('\nThe page in Chromium, 1280 x 800, a print of 13 x 15 in with 8 plates:');
  for (const [name, id] of [
    ['vector', large],
    ['pixels', largePixels],
  ]) {
    await withSheet(base, id, (sheet) => ({ ...sheet, print: { widthMm: 330.2, heightMm: 381 } }));
    if (sections.has('table')) {
      await saySteal(async () => {
        await measurePage(base, id, name);
        await measureDots(base, id, name);
      });
    }
  }
  if (!sections.has('work')) return;
  say(`\n${WORK_MINUTES} minutes of scripted work on it, pixels; memory of the page:`);
  await measureWork(base, largePixels);
}
