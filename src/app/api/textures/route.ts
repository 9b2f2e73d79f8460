import { answer } from '@/server/http/respond';
import { takeInFile } from '@/server/http/takeInFile';

export const dynamic = 'force-dynamic';

/** Takes a picture or a drawing as the body of the request and has it read as a texture. */
export function POST(request: Request): Promise<Response> {
  return answer(request, () => takeInFile(request, { taskOf: (file) => ({ kind: 'texture', ...file }) }));
}
