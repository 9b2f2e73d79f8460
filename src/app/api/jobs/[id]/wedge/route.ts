import { sharedConnection } from '@/server/db/database';
import { wedgePdf } from '@/server/films';
import { answer, badRequest, readId } from '@/server/http/respond';
import { readJob } from '@/server/jobs/jobStore';

export const dynamic = 'force-dynamic';

/**
 * A step wedge through the screen of a plate, as a film to print and to measure. With `for=printer` the film printer's own gain is not
 * made up for, since that is what is to be measured.
 */
export function GET(request: Request, context: RouteContext<'/api/jobs/[id]/wedge'>): Promise<Response> {
  return answer(request, async () => {
    const id = readId((await context.params).id);
    const { sheet } = await readJob(sharedConnection().database, id);
    const { searchParams } = new URL(request.url);
    const plateId = searchParams.get('plate');
    const printerTones = searchParams.get('for') === 'printer' ? null : sheet.film.printerTones;
    const plate = sheet.plates.find((each) => each.id === plateId);
    if (!plate) throw badRequest('The job has no such plate.');
    return new Response(
      new Uint8Array(wedgePdf({ ...sheet, film: { ...sheet.film, printerTones } }, plate)),
      {
        headers: {
          'content-type': 'application/pdf',
          'content-disposition': `attachment; filename="wedge-${plate.id}.pdf"`,
        },
      },
    );
  });
}
