import { KerameusError, type ErrorReport, toErrorReport } from '@/core/units';

const STATUS: Readonly<Record<string, number>> = {
  'job-not-found': 404,
  'task-not-found': 404,
  'file-not-found': 404,
  'artwork-missing': 404,
  'other-origin': 403,
  internal: 500,
};

/** An error as an HTTP response; unknown ones are logged and told without their inside. */
export function errorResponse(thrown: unknown): Response {
  const report = toErrorReport(thrown);
  if (isDatabaseAway(thrown)) {
    return Response.json(
      {
        code: 'database-away',
        message: 'The database does not answer.',
        remedy: 'Wait a moment and try again; nothing is lost.',
      } satisfies ErrorReport,
      { status: 503 },
    );
  }
  const status = STATUS[report.code] ?? 400;
  if (report.code === 'internal') {
    console.error(thrown);
    const told: ErrorReport = {
      code: 'internal',
      message: 'Something went wrong on the server.',
      remedy: 'Try again; the log of the server says more.',
    };
    return Response.json(told, { status });
  }
  return Response.json(report, { status });
}

function isDatabaseAway(thrown: unknown): boolean {
  for (let error = thrown; error instanceof Error; error = error.cause) {
    const code = (error as NodeJS.ErrnoException).code ?? '';
    if (['ECONNREFUSED', 'ECONNRESET', '57P01', '57P03'].includes(code)) return true;
    if (/Connection terminated|timeout exceeded when trying to connect/i.test(error.message)) return true;
  }
  return false;
}

/** Runs a route's work and turns what it throws into a response. */
export async function answer(work: () => Promise<Response> | Response): Promise<Response> {
  try {
    return await work();
  } catch (thrown) {
    return errorResponse(thrown);
  }
}

const LOOPBACK = /^(localhost|127\.\d+\.\d+\.\d+|\[::1\])(:\d+)?$/;

/**
 * Refuses a changing request that a page of another origin sent, and one that reached this server under another name.
 * Throws KerameusError `other-origin`.
 */
export function assertSameOrigin(request: Request): void {
  const host = request.headers.get('host') ?? '';
  const origin = request.headers.get('origin');
  const site = request.headers.get('sec-fetch-site');
  const foreign =
    !LOOPBACK.test(host) ||
    (origin !== null && originHost(origin) !== host) ||
    (site !== null && site !== 'same-origin' && site !== 'none');
  if (!foreign) return;
  throw new KerameusError({
    code: 'other-origin',
    message: 'This request came from another site and was refused.',
    remedy: 'Open the application at its own address.',
  });
}

function originHost(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
}

const MAX_JSON = 2e6;

/** The JSON body of a request, at most two megabytes. Throws KerameusError `bad-request`. */
export async function readJson(request: Request): Promise<unknown> {
  const text = await request.text();
  if (text.length > MAX_JSON) throw badRequest('The request is too large.');
  try {
    return JSON.parse(text);
  } catch {
    throw badRequest('The request is not JSON.');
  }
}

export function badRequest(message: string): KerameusError {
  return new KerameusError({ code: 'bad-request', message, remedy: 'Reload the page and try again.' });
}

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

/** An identifier from the address; anything else names nothing. */
export function readId(text: string, code = 'job-not-found'): string {
  if (UUID.test(text)) return text;
  throw new KerameusError({ code, message: 'There is no such thing here.', remedy: 'Go back to the jobs.' });
}
