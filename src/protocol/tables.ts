import type { TableWish } from '@/core/solving';

/** Digits of numbers that count: the last ones of a power differ from one engine to the other. */
const DIGITS = 12;

/**
 * What a table of tones is called where it is kept, 64 hexadecimal digits: the same for page and worker, and another one when the code that solves changes. Asks for `crypto.subtle`, which
 * browsers have for connections that they trust.
 *
 * @param solver names the code that solves: SOLVER_HASH, which builds of page and worker put in place.
 */
export async function tableName({ stack, opacity }: TableWish, solver: string | undefined): Promise<string> {
  const { grounds, inks, inkLimit } = stack;
  const text = JSON.stringify([solver, opacity, grounds, inks, inkLimit], (_, value: unknown) =>
    typeof value === 'number' ? value.toPrecision(DIGITS) : value,
  );
  const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', new TextEncoder().encode(text)));
  return [...hash].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}
