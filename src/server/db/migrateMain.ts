import path from 'node:path';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { projectRoot } from '../projectRoot';
import { connect } from './database';

/** Any number that nobody else locks; two programs that start together must not migrate at once. */
const MIGRATION_LOCK = 5_274_631;

const { pool, database } = connect();
const client = await pool.connect();
try {
  await client.query('select pg_advisory_lock($1)', [MIGRATION_LOCK]);
  await migrate(database, { migrationsFolder: path.join(projectRoot(), 'drizzle') });
} finally {
  await client.query('select pg_advisory_unlock($1)', [MIGRATION_LOCK]);
  client.release();
  await pool.end();
}
