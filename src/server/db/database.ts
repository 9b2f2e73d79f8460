import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import { KerameusError } from '@/core/units';
import * as schema from './schema';

export type Database = NodePgDatabase<typeof schema>;

/** A database that is only read from: what may write says so. */
export type Reader = Pick<Database, 'select'>;

export interface Connection {
  readonly database: Database;
  readonly pool: pg.Pool;
}

/** Address of the database, from the environment. */
export function databaseUrl(): string {
  const url = process.env.KERAMEUS_DATABASE_URL;
  if (!url) {
    throw new KerameusError({
      code: 'no-database',
      message: 'KERAMEUS_DATABASE_URL is not set.',
      remedy: 'Start with npm run demo, or set it to the address of a PostgreSQL database.',
    });
  }
  return url;
}

/** Opens a pool of connections. */
export function connect(url = databaseUrl()): Connection {
  const pool = new pg.Pool({ connectionString: url, max: 8, connectionTimeoutMillis: 5000 });
  // A connection that breaks while idle is replaced on the next use.
  pool.on('error', () => undefined);
  return { pool, database: drizzle(pool, { schema }) };
}

const globalSlot = globalThis as unknown as { kerameusConnection?: Connection };

/** The one pool of this process. */
export function sharedConnection(): Connection {
  globalSlot.kerameusConnection ??= connect();
  return globalSlot.kerameusConnection;
}

/** What a driver calls it when the database, or the way to it, is gone for a while; classes 08 and 57P of PostgreSQL's error codes. */
const AWAY = /^(ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|ENOTFOUND|08...|57P0.)$/;
const AWAY_WORDS = /connection terminated|connection timeout|not queryable|server closed the connection/i;

/** Whether something failed because the database is away, and not because of what was asked of it. */
export function isDatabaseAway(thrown: unknown): boolean {
  if (!(thrown instanceof Error)) return false;
  if ('code' in thrown && AWAY.test(String(thrown.code))) return true;
  return AWAY_WORDS.test(thrown.message) || isDatabaseAway(thrown.cause);
}
