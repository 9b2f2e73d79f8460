import { type TableWish, tableKey } from '@/core/solving';

/**
 * What a table of tones is called where it is kept, 64 hexadecimal digits: the same for page and worker, and another one when the code that solves changes. Asks for `crypto.subtle`, which
 * browsers have for connections that they trust.
 *
 * @param solver names the code that solves: SOLVER_HASH, which builds of page and worker put in place.
 */
export async function tableName(wish: TableWish, solver: string | undefined): Promise<string> {
  const text = `${solver}|${tableKey(wish)}`;
  const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', new TextEncoder().encode(text)));
  return [...hash].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}
