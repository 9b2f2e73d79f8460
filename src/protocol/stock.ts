import { z } from 'zod';
import { type Stock, stockSchema } from '@/core/sheet';

/** Stock as it stands, and the number of its version. */
export interface StockView {
  readonly version: number;
  readonly stock: Stock;
}

export const stockChangeSchema = z.strictObject({
  base: z
    .int()
    .min(0)
    .max(2 ** 31 - 2),
  stock: stockSchema,
});
