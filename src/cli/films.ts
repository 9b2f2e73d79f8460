import { notesOfFile } from '@/server/artwork';
import { type Options, required } from './arguments';
import { openJob } from './openJob';
import { type Made, Stopwatch, produce } from './produce';
import { withAutoDots } from './toneDots';
import { withWorkFolder } from './workFiles';

/** `films JOB.json`: makes the films of a job sheet with its artwork beside it. */
export function films(jobFile: string, options: Options): Promise<Made> {
  const out = required(options, 'out');
  const watch = new Stopwatch();
  return withWorkFolder(async (folder) => {
    const { sheet, facts, files, artworkFile } = await openJob(jobFile, options, folder, watch);
    return produce({
      ...(await withAutoDots(sheet, files, options, watch)),
      notes: notesOfFile(facts),
      files,
      artworkFile,
      out,
      folder,
      options,
      watch,
    });
  });
}
