import { KerameusError } from '@/core/units';
import { stockChangeSchema } from '@/protocol/stock';
import { sharedConnection } from '@/server/db/database';
import { answer, readJson } from '@/server/http/respond';
import { readStock, writeStock } from '@/server/stock/stockStore';

export const dynamic = 'force-dynamic';

export function GET(request: Request): Promise<Response> {
  return answer(request, async () => Response.json(await readStock(sharedConnection().database)));
}

/** Replaces the stock; 409 with the newer one when it was changed meanwhile. */
export function PUT(request: Request): Promise<Response> {
  return answer(request, async () => {
    const change = stockChangeSchema.safeParse(await readJson(request));
    if (!change.success) {
      const issue = change.error.issues[0]!;
      throw new KerameusError({
        code: 'stock',
        parameter: issue.path.join('.'),
        message: `The stock is not valid: ${issue.path.slice(1).join('.')}: ${issue.message}.`,
        remedy: 'Correct that value.',
      });
    }
    const { database } = sharedConnection();
    const written = await writeStock(database, change.data.base, change.data.stock);
    return Response.json(await readStock(database), { status: written ? 200 : 409 });
  });
}
