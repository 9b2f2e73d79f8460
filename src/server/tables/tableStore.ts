import { setTimeout as wait } from 'node:timers/promises';
import { and, eq, inArray, isNull } from 'drizzle-orm';
import type { Database, Reader } from '../db/database';
import { solvedTables } from '../db/schema';

/** A table of tones by its name, see `tableName`: coverages 0..65535, two bytes each, as `ToneTable` has them. */
export interface SolvedTable {
  readonly name: string;
  readonly entries: Uint16Array;
}

/** Says that tables will be there soon: whoever asks for one waits for it rather than solving it once more. */
export async function announceTables(
  database: Pick<Database, 'insert'>,
  names: readonly string[],
): Promise<void> {
  if (names.length === 0) return;
  await database
    .insert(solvedTables)
    .values(names.map((name) => ({ name })))
    .onConflictDoNothing();
}

/** Keeps tables that were announced. */
export async function keepTables(
  database: Pick<Database, 'update'>,
  tables: readonly SolvedTable[],
): Promise<void> {
  for (const { name, entries } of tables) {
    const bytes = Buffer.from(entries.buffer, entries.byteOffset, entries.byteLength);
    await database.update(solvedTables).set({ entries: bytes }).where(eq(solvedTables.name, name));
  }
}

/** Takes back what was announced and will not be there. */
export async function forgetTables(
  database: Pick<Database, 'delete'>,
  names: readonly string[],
): Promise<void> {
  if (names.length === 0) return;
  await database
    .delete(solvedTables)
    .where(and(inArray(solvedTables.name, [...names]), isNull(solvedTables.entries)));
}

/** An announced table is waited for so long, and is not there any more when it is older than that: whoever wants it solves it faster. */
const MOST_WAIT_MS = 3000;
const LATE_MS = 10_000;
const LOOK_EVERY_MS = 40;

/** The entries of a table; waits for one that is being solved. Null where there is none. */
export async function findTable(database: Reader, name: string, signal: AbortSignal): Promise<Buffer | null> {
  const until = Date.now() + MOST_WAIT_MS;
  for (;;) {
    const [row] = await database.select().from(solvedTables).where(eq(solvedTables.name, name));
    if (!row || row.entries) return row?.entries ?? null;
    const isLate = Date.now() - row.createdAt.getTime() > LATE_MS;
    if (isLate || Date.now() > until || signal.aborted) return null;
    await wait(LOOK_EVERY_MS);
  }
}
