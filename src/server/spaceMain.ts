import { connect } from './db/database';
import { KEPT_DAYS, keepHouse, spaceReport } from './housekeeping';

const { pool, database } = connect();
try {
  const size = (bytes: number) => `${(bytes / 1e6).toFixed(1).padStart(10)} MB`;
  if (process.argv.includes('--tidy')) {
    const { jobs, tasks, artworks, textures, files } = await keepHouse(database);
    console.log(
      `Removed ${jobs} deleted jobs, ${tasks} ended tasks, ${artworks} artworks, ${textures} pictures of textures, ${files} files.\n`,
    );
  }
  for (const { what, count, bytes } of await spaceReport(database)) {
    console.log(`${size(bytes)}  ${String(count).padStart(7)}  ${what}`);
  }
  console.log(
    `\nKept: deleted jobs ${KEPT_DAYS.deletedJobs} days; films and approvals that newer ones took the place of ${KEPT_DAYS.superseded} days, ` +
      `those of a named version for good; other ended tasks ${KEPT_DAYS.endedTasks} days; artwork and pictures of textures that no job shows ${KEPT_DAYS.artwork} days; ` +
      `files that nothing refers to ${KEPT_DAYS.files} day. Workers tidy up when they start and once a day; --tidy does it now.`,
  );
} finally {
  await pool.end();
}
