import { answer } from '@/server/http/respond';
import { takeInFile } from '@/server/http/takeInFile';

export const dynamic = 'force-dynamic';

/** Takes an artwork file as the body of the request and has it read by the background worker. */
export function POST(request: Request): Promise<Response> {
  return answer(request, () => takeInFile(request, { taskOf: (file) => ({ kind: 'import', ...file }) }));
}
