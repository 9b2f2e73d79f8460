import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { and, asc, eq, like } from 'drizzle-orm';
import { KerameusError } from '@/core/units';
import type { PrintPayload, ProgressItem } from '@/protocol/tasks';
import { files, taskFiles, tasks } from '@/server/db/schema';
import { materialise } from '@/server/files/fileStore';
import { readVersion } from '@/server/jobs/jobStore';
import { IppPrinter, printFilm } from '@/server/printing';
import type { TaskRun } from './runTask';

/** Sends the finished films of a set to a film printer, one after another. */
export async function runPrint(run: TaskRun, payload: PrintPayload): Promise<void> {
  const { database, folder, signal } = run;
  const [made] = await database
    .select({ payload: tasks.payload })
    .from(tasks)
    .where(eq(tasks.id, payload.filmsTaskId));
  const films = await database
    .select({ name: taskFiles.name, fileId: taskFiles.fileId })
    .from(taskFiles)
    .innerJoin(files, eq(files.id, taskFiles.fileId))
    .where(
      and(
        eq(taskFiles.taskId, payload.filmsTaskId),
        eq(files.type, 'image/tiff'),
        like(taskFiles.name, '%.tif'),
      ),
    )
    .orderBy(asc(taskFiles.position));
  // A shop that gangs its films prints them so.
  const ganged = films.filter(({ name }) => /^gang-\d+\.tif$/.test(name));
  const prints =
    ganged.length > 0
      ? ganged
      : films.filter(({ name }) => name !== 'inks.tif' && !name.endsWith('.screen.tif'));
  if (!made || made.payload.kind !== 'films' || prints.length === 0) {
    throw new KerameusError({
      code: 'no-films',
      message: 'There are no films as TIFF to send.',
      remedy: 'Tick TIFF under Files, make the films, and send them again.',
    });
  }
  const { film } = await readVersion(database, payload.jobId, made.payload.version);
  const printer = new IppPrinter(payload.uri);
  const items: ProgressItem[] = prints.map(({ name }) => ({ name, done: 0 }));
  const tell = (words: string) => run.progress({ step: `${payload.printer} ${words}`, items: [...items] });
  await tell('is asked');
  const facts = await printer.facts();
  if (facts.resolutions.length > 0 && !facts.resolutions.includes(film.dpi)) {
    throw new KerameusError({
      code: 'printer-resolution',
      parameter: 'resolution',
      message: `The films have ${film.dpi} dpi; ${payload.printer} prints ${facts.resolutions.join(', ')} dpi.`,
      remedy:
        "Set the film resolution to the printer's and make the films again: a scaled film has other dots.",
    });
  }
  for (const [k, { name, fileId }] of prints.entries()) {
    const target = path.join(folder, `film-${k}.tif`);
    await materialise(database, fileId, target);
    const data = await readFile(target);
    await printFilm(
      printer,
      { name, format: 'image/tiff', dpi: film.dpi, data },
      signal,
      (words) => void tell(words),
    );
    items[k] = { name, done: 1 };
    await tell('prints');
  }
  await run.finish(async () => ({}));
}
