import { desc } from 'drizzle-orm';
import { START_STOCK, type Stock, stockSchema } from '@/core/sheet';
import type { StockView } from '@/protocol/stock';
import type { Database, Reader } from '../db/database';
import { stockVersions } from '../db/schema';

/** The stock in force; the one that every shop begins with where nothing was changed yet, or cannot be read. */
export async function readStock(database: Reader): Promise<StockView> {
  const [row] = await database.select().from(stockVersions).orderBy(desc(stockVersions.version)).limit(1);
  const known = stockSchema.safeParse(row?.stock);
  return { version: row?.version ?? 0, stock: known.success ? known.data : START_STOCK };
}

/** Stores stock made from a version; false when somebody else changed it meanwhile. */
export async function writeStock(database: Database, base: number, stock: Stock): Promise<boolean> {
  const { version } = await readStock(database);
  if (version !== base) return false;
  const rows = await database
    .insert(stockVersions)
    .values({ version: base + 1, stock })
    .onConflictDoNothing()
    .returning({ version: stockVersions.version });
  return rows.length === 1;
}
