import path from 'node:path';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { projectRoot } from '../projectRoot';
import { startQueue } from '../tasks/queue';
import { connect } from './database';

/** Any number that nobody else locks; two programs that start together must not migrate at once. */
const MIGRATION_LOCK = 5_274_631;

const { pool, database } = connect();
const client = await pool.connect();
try {
  await client.query('select pg_advisory_lock($1)', [MIGRATION_LOCK]);
  await migrate(database, { migrationsFolder: path.join(projectRoot(), 'drizzle') });
  // The queues make tables of their own; programs that start together would wait for each other over them.
  const queue = await startQueue('sender');
  await queue.stop({ graceful: false, timeout: 3000 });
} finally {
  await client.query('select pg_advisory_unlock($1)', [MIGRATION_LOCK]);
  client.release();
  await pool.end();
}
