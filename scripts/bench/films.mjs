// Film sets through the queue and the worker.
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { say } from '../lib/system.mjs';
import { forgetPeak, peakMemory } from './figures.mjs';
import { drawing, films, rendered, upload, withSheet } from './jobs.mjs';

export async function benchFilms({ base, worker, scratch }) {
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

/** A picture at 300 dpi that is all transitions, each between two of eight colours. */
async function transitions(widthIn, heightIn) {
  const { default: sharp } = await import('sharp');
  const [width, height] = [widthIn * 300, heightIn * 300];
  const colours = ['#e8b23a', '#c8382e', '#2e7d8c', '#3c8a50', '#8a4f9e', '#e07a2f', '#4060c0', '#7a5a3a'];
  const light = colours.map((colour) =>
    [1, 3, 5].map((k) => (parseInt(colour.slice(k, k + 2), 16) / 255) ** 2.2),
  );
  const data = Buffer.alloc(width * height * 3);
  for (let y = 0, i = 0; y < height; y++) {
    const bend = 2 * Math.sin(y / 900);
    const swing = Math.cos(y / 800);
    for (let x = 0; x < width; x++) {
      const at = Math.min(6.999, 3.5 + 3.5 * Math.sin(x / 700 + bend) * swing);
      const k = Math.floor(at);
      const share = Math.min(1, Math.max(0, (at - k - 0.15) / 0.7));
      for (let c = 0; c < 3; c++) {
        data[i++] = Math.round(255 * ((1 - share) * light[k][c] + share * light[k + 1][c]) ** (1 / 2.2));
      }
    }
  }
  return sharp(data, { raw: { width, height, channels: 3 }, limitInputPixels: false })
    .png({ compressionLevel: 1 })
    .toBuffer();
}

/** The largest film set that a shop makes of a size: tone everywhere, dots beside each other, 1440 dpi. */
export async function benchLarge({ base, worker }, widthIn, heightIn) {
  const id = await upload(base, 'transitions.png', await transitions(widthIn, heightIn));
  await withSheet(base, id, (sheet) => {
    // Seven inks and a base; what else was found in the transitions goes to them.
    const inks = sheet.plates.filter((plate) => plate.role !== 'underbase').slice(0, 7);
    const isKept = (plateId) => inks.some((plate) => plate.id === plateId);
    const [layer] = sheet.layers;
    const printedBy = ({ id: colourId }, k) =>
      inks.find(({ sources }) =>
        sources.some(({ colours }) => colours.some((each) => each.colourId === colourId)),
      ) ?? inks[k % inks.length];
    const sourcesOf = ({ id }) => {
      const own = layer.colours.filter((colour, k) => printedBy(colour, k).id === id);
      const colours = own.map((colour) => ({ colourId: colour.id, tint: 1 }));
      return colours.length > 0 ? [{ kind: 'colours', layerId: layer.id, colours }] : [];
    };
    return {
      ...sheet,
      print: { ...sheet.print, widthMm: widthIn * 25.4, heightMm: heightIn * 25.4 },
      plates: sheet.plates.map((plate) => ({
        ...plate,
        sources: sourcesOf(plate),
        screen: { ...plate.screen, interlock: isKept(plate.id) ? 1 : null },
      })),
      film: { ...sheet.film, dpi: 1440, sheetWidthMm: 762, sheetHeightMm: null, formats: ['tiff'] },
    };
  });
  const imported = peakMemory(worker.pid);
  forgetPeak(worker.pid);
  const task = await films(base, id);
  if (task.state !== 'done') throw new Error(JSON.stringify(task));
  const count = task.files.filter((file) => file.name.endsWith('.tif')).length;
  say(
    `\nA film set of ${widthIn} x ${heightIn} in at 1440 dpi, tone all over, interlocked: ${task.result.seconds.toFixed(1)} s for ${count} films; worker's peak memory ${peakMemory(worker.pid).toFixed(0)} MB (${imported.toFixed(0)} MB while the artwork was taken in)`,
  );
}
