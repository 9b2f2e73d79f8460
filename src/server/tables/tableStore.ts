import { setTimeout as wait } from 'node:timers/promises';
import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
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
    // By the clock: the transaction may have begun long ago.
    .values(names.map((name) => ({ name, createdAt: sql`clock_timestamp()` })))
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

/** A table that was announced longer ago, in seconds, is not waited for: whoever wants it solves it sooner. */
const LATE_SECONDS = 10;
const LOOK_EVERY_MS = 40;

/** The entries of a table; waits for one that is being solved. Null where there is none. */
export async function findTable(database: Reader, name: string, signal: AbortSignal): Promise<Buffer | null> {
  const { entries } = solvedTables;
  const isLate = sql<boolean>`${solvedTables.createdAt} < clock_timestamp() - make_interval(secs => ${LATE_SECONDS})`;
  for (;;) {
    const [row] = await database
      .select({ entries, isLate })
      .from(solvedTables)
      .where(eq(solvedTables.name, name));
    if (!row || row.entries || row.isLate || signal.aborted) return row?.entries ?? null;
    await wait(LOOK_EVERY_MS);
  }
}
