import { sharedConnection } from '@/server/db/database';
import { wedgePdf } from '@/server/films';
import { answer, badRequest, readId } from '@/server/http/respond';
import { readJob } from '@/server/jobs/jobStore';

export const dynamic = 'force-dynamic';

/** A step wedge through the screen of a plate, as a film to print and to measure. */
export function GET(request: Request, context: RouteContext<'/api/jobs/[id]/wedge'>): Promise<Response> {
  return answer(async () => {
    const id = readId((await context.params).id);
    const { sheet } = await readJob(sharedConnection().database, id);
    const plateId = new URL(request.url).searchParams.get('plate');
    const plate = sheet.plates.find((each) => each.id === plateId);
    if (!plate) throw badRequest('The job has no such plate.');
    return new Response(new Uint8Array(wedgePdf(sheet, plate)), {
      headers: {
        'content-type': 'application/pdf',
        'content-disposition': `attachment; filename="wedge-${plate.id}.pdf"`,
      },
    });
  });
}
