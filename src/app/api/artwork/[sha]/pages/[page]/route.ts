import { eq } from 'drizzle-orm';
import pLimit from 'p-limit';
import type { ImportPayload } from '@/protocol/tasks';
import { findArtwork } from '@/server/artworks/artworkStore';
import { originalShelf } from '@/server/artworks/originalShelf';
import { sharedConnection } from '@/server/db/database';
import { files } from '@/server/db/schema';
import { copyStored } from '@/server/files/fileStore';
import { answer, badRequest, readHash } from '@/server/http/respond';
import { pdfPagePicture } from '@/server/pdf';
import { enqueue } from '@/server/tasks/queue';
import { createTask } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

type Context = RouteContext<'/api/artwork/[sha]/pages/[page]'>;

/** Longer side of a page's picture, in pixels. */
const SIDE = 320;
/** Pages that are drawn at a time: each is a program of its own. */
const drawing = pLimit(2);

async function asked(context: Context) {
  const { sha, page } = await context.params;
  const row = await findArtwork(sharedConnection().database, readHash(sha));
  const count = row?.facts.page?.count ?? 0;
  const number = Number(page);
  if (!row || !Number.isInteger(number) || number < 1 || number > count) {
    throw badRequest(`This artwork has no page ${page}.`);
  }
  return { row, number };
}

/** A small picture of a page of a PDF, whichever of its pages the artwork is. */
export function GET(request: Request, context: Context): Promise<Response> {
  return answer(request, async () => {
    const { row, number } = await asked(context);
    const { database } = sharedConnection();
    const picture = await drawing(() => {
      // Whoever scrolled on does not wait for it any more.
      request.signal.throwIfAborted();
      return originalShelf.use(database, row.sha256, (file) =>
        pdfPagePicture(file, number, SIDE, request.signal),
      );
    });
    return new Response(new Uint8Array(picture), {
      headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=31536000, immutable' },
    });
  });
}

/** Has another page read as artwork of a job of its own. */
export function POST(request: Request, context: Context): Promise<Response> {
  return answer(request, async () => {
    const { row, number } = await asked(context);
    const { database } = sharedConnection();
    const { taskId, payload } = await database.transaction(async (transaction) => {
      const [file] = await transaction.select().from(files).where(eq(files.id, row.fileId));
      const task: ImportPayload = {
        kind: 'import',
        fileId: await copyStored(transaction, file!),
        fileName: row.facts.fileName,
        bytes: file!.size,
        page: number,
      };
      return { taskId: await createTask(transaction, task), payload: task };
    });
    await enqueue(payload, taskId);
    return Response.json({ taskId }, { status: 202 });
  });
}
