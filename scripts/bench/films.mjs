// Film sets through the queue and the worker.
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { say } from '../lib/system.mjs';
import { peakMemory } from './figures.mjs';
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
