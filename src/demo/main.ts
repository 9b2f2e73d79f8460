import { readFileSync } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { count, eq } from 'drizzle-orm';
import sharp from 'sharp';
import {
  DEFAULT_TEXTURE,
  type Garment,
  type JobSheet,
  START_STOCK,
  type Texture,
  artworkOf,
  isSimulated,
  paletteOf,
  renumber,
} from '@/core/sheet';
import {
  addGarment,
  assignColour,
  changeGarment,
  changePlate,
  changePrintWidth,
  chooseInkSet,
  setTint,
  setTogether,
} from '@/core/separation';
import { isFinished } from '@/protocol/tasks';
import { artworkShelf } from '@/server/artworks/artworkShelf';
import { bestOffer } from '@/core/pipeline';
import { type Connection, connect } from '@/server/db/database';
import { artworks, tasks } from '@/server/db/schema';
import { renderPage } from '@/server/drawings';
import { storeFile } from '@/server/files/fileStore';
import { commitVersion, readJob } from '@/server/jobs/jobStore';
import { readStock, writeStock } from '@/server/stock/stockStore';
import { projectRoot } from '@/server/projectRoot';
import { study } from '@/server/study';
import { enqueue, startQueue } from '@/server/tasks/queue';
import { createTask, viewTask } from '@/server/tasks/taskStore';

interface DemoJob {
  readonly name: string;
  readonly source: string;
  /** What the shop would have got from its customer. */
  readonly fileName: string;
  readonly garment: Garment;
  readonly printWidthMm: number;
  /** Names for the inks, by the colour they were found with. */
  readonly inks: Readonly<Record<string, string>>;
  /** Another garment that films of tones are found for together with the first. */
  readonly alsoOn?: Garment;
  /** What makes its print look worn. */
  readonly texture?: Partial<Texture>;
  /** Colours that print as a tint of another: colour, the ink's colour, coverage. */
  readonly tints?: readonly (readonly [string, string, number])[];
}

const DEMO_JOBS: readonly DemoJob[] = [
  {
    name: 'The Net Loft',
    source: 'net-loft.svg',
    fileName: 'net-loft-300dpi.png',
    garment: { name: 'Pitch black', colour: '#17171b' },
    printWidthMm: 254,
    inks: {
      '#f6a21e': 'Lamp amber',
      '#c2452d': 'Rust',
      '#2f7f86': 'Net green',
      '#fff6df': 'Cream',
    },
  },
  {
    name: 'Brackwater Rowers',
    source: 'rowers-crest.svg',
    fileName: 'rowers-crest.svg',
    garment: { name: 'Sand', colour: '#ece4d2' },
    printWidthMm: 228.6,
    inks: { '#1c2f55': 'Club navy', '#b3262e': 'Oar red' },
    tints: [
      ['#7782a0', '#1c2f55', 0.6],
      ['#b4bbc9', '#1c2f55', 0.3],
    ],
    texture: { kind: 'cracked', strength: 0.12, scale: 0.8 },
  },
  {
    name: 'Kite & Kelp festival crew',
    source: 'harbour-kites.svg',
    fileName: 'harbour-kites.svg',
    garment: { name: 'Harbour navy', colour: '#16233f' },
    printWidthMm: 304.8,
    inks: {
      '#f2b134': 'Sun gold',
      '#e4502f': 'Kite coral',
      '#1e6f8c': 'Harbour blue',
      '#3f8f5b': 'Kelp green',
      '#0d1420': 'Tar',
    },
  },
  {
    name: 'Breakwater at dusk',
    source: 'breakwater-dusk.svg',
    fileName: 'breakwater-dusk.png',
    garment: { name: 'Pitch black', colour: '#17171b' },
    alsoOn: { name: 'White', colour: '#fafaf8' },
    printWidthMm: 254,
    inks: {},
  },
];

/** Customers send pixels as well: a drawing becomes a PNG at 300 dpi with soft edges, and a painting is one. */
async function artworkFile(job: DemoJob, folder: string): Promise<string> {
  const source = path.join(projectRoot(), 'src/demo/artwork', job.source);
  if (job.fileName.endsWith('.svg')) return source;
  const { width, height, data } = await renderPage(
    readFileSync(source, 'utf8'),
    Math.round((job.printWidthMm / 25.4) * 300),
  );
  const target = path.join(folder, job.fileName);
  const picture = sharp(data, { raw: { width, height, channels: 4 } });
  await writeFile(target, await picture.withMetadata({ density: 300 }).png().toBuffer());
  return target;
}

/** Gives a freshly proposed job the names, garment and tints of the demo, by the edits that the page makes. */
function dress(sheet: JobSheet, demo: DemoJob): JobSheet {
  let next = changePrintWidth(changeGarment({ ...sheet, name: demo.name }, demo.garment), demo.printWidthMm);
  const entryOf = (colour: string) => paletteOf(next).find((entry) => entry.colour === colour)!;
  for (const [colour, inkColour, tint] of demo.tints ?? []) {
    const { id } = entryOf(colour);
    next = setTint(assignColour(next, id, entryOf(inkColour).plateId), id, tint);
  }
  for (const plate of next.plates) {
    const name = demo.inks[plate.ink.colour];
    if (name && plate.role === 'colour') next = changePlate(next, plate.id, { ink: { ...plate.ink, name } });
  }
  const texture = demo.texture ? { ...DEFAULT_TEXTURE, ...demo.texture } : null;
  return renumber({ ...next, texture });
}

const MOST_DEMO_SCREENS = 7;

/** Inks of stock for a painting on its garments: as many screens as are worth it. */
async function withInks(database: Connection['database'], sheet: JobSheet, demo: DemoJob): Promise<JobSheet> {
  if (!isSimulated(sheet) || !demo.alsoOn) return sheet;
  const both = setTogether(addGarment(sheet, demo.alsoOn), true);
  const { stock } = await readStock(database);
  const { offers } = await artworkShelf.use(database, artworkOf(sheet).sha256, ({ files, outerMap }) =>
    study(
      { kind: 'inks', job: { sheet: both, files, outerMap }, stock: stock.inks, most: MOST_DEMO_SCREENS },
      AbortSignal.timeout(PATIENCE_MS),
    ),
  );
  return chooseInkSet(both, bestOffer(both, offers)!.inks);
}

async function seed({ database }: Connection): Promise<void> {
  const [known] = await database.select({ value: count() }).from(artworks);
  if (known!.value > 0) return;
  const boss = await startQueue('sender');
  const folder = await mkdtemp(path.join(tmpdir(), 'kerameus-demo-'));
  try {
    for (const demo of DEMO_JOBS) {
      const file = await artworkFile(demo, folder);
      const stored = await storeFile(database, file, {
        name: demo.fileName,
        type: 'application/octet-stream',
      });
      const payload = { kind: 'import' as const, fileId: stored.id, fileName: demo.fileName };
      const taskId = await createTask(database, payload);
      await enqueue(payload, taskId, { boss });
      const jobId = await finished(database, taskId);
      const job = await readJob(database, jobId);
      const sheet = await withInks(database, dress(job.sheet, demo), demo);
      const dressed = await commitVersion(database, jobId, job.version, sheet);
      const picture = { kind: 'picture' as const, jobId };
      await enqueue(picture, await createTask(database, picture, jobId), { boss });
      console.log(`Demo job: ${dressed.sheet.name}, ${dressed.sheet.plates.length} screens`);
    }
    await waitForPictures(database);
  } finally {
    await rm(folder, { recursive: true, force: true });
    await boss.stop({ graceful: false });
  }
}

const PATIENCE_MS = 120_000;

async function finished(database: Connection['database'], taskId: string): Promise<string> {
  const end = Date.now() + PATIENCE_MS;
  while (Date.now() < end) {
    const task = await viewTask(database, taskId);
    if (task && isFinished(task.state)) {
      if (task.result?.jobId) return task.result.jobId;
      throw new Error(`The demo artwork could not be read: ${task.error?.message ?? task.state}`);
    }
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error('The demo artwork was not read in time; is the worker running?');
}

async function waitForPictures(database: Connection['database']): Promise<void> {
  const end = Date.now() + PATIENCE_MS;
  while (Date.now() < end) {
    const rows = await database.select({ state: tasks.state }).from(tasks).where(eq(tasks.kind, 'picture'));
    if (rows.every((row) => isFinished(row.state))) return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

/** The simulated film printer's port is chosen when it starts; the printer of the stock that stands for it follows. */
async function pointPrinter({ database }: Connection): Promise<void> {
  const uri = process.env.KERAMEUS_PRINTER_URI;
  const simulated = START_STOCK.printers.find((printer) => printer.uri !== '')!;
  const { version, stock } = await readStock(database);
  const known = stock.printers.find(({ name }) => name === simulated.name);
  if (!uri || !known || known.uri === uri || !/^ipp:\/\/127\.0\.0\.1:\d+\/ipp\/print$/.test(known.uri))
    return;
  const printers = stock.printers.map((printer) => (printer === known ? { ...printer, uri } : printer));
  await writeStock(database, version, { ...stock, printers });
}

const connection = connect();
try {
  await pointPrinter(connection);
  await seed(connection);
} finally {
  await connection.pool.end();
}
