import { KerameusError, type ErrorReport, toErrorReport } from '@/core/units';
import { isDatabaseAway } from '../db/database';
import { log, tellUser } from '../log';
import { assertAllowed } from './door';

const STATUS: Readonly<Record<string, number>> = {
  'job-not-found': 404,
  'task-not-found': 404,
  'file-not-found': 404,
  'artwork-missing': 404,
  'texture-missing': 404,
  'table-missing': 404,
  'other-host': 403,
  'other-origin': 403,
  'too-slow': 408,
  'upload-size': 413,
  'request-size': 413,
  'disk-full': 507,
  'database-full': 507,
  busy: 503,
  internal: 500,
};

/** An error as an HTTP response; unknown ones are logged and told without their inside. */
export function errorResponse(thrown: unknown): Response {
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
  if (toErrorReport(thrown).code === 'internal') log.error({ err: thrown }, 'a request failed');
  const told = tellUser(thrown);
  return Response.json(told, { status: STATUS[told.code] ?? 400 });
}

/** Runs a route's work, for a caller that is let in, and turns what it throws into a response. */
export async function answer(request: Request, work: () => Promise<Response> | Response): Promise<Response> {
  try {
    const { headers, method } = request;
    assertAllowed({
      method,
      host: headers.get('host'),
      origin: headers.get('origin'),
      site: headers.get('sec-fetch-site'),
      peer: null,
    });
    const response = await work();
    // What is here is for pages of this server alone.
    response.headers.set('cross-origin-resource-policy', 'same-origin');
    return response;
  } catch (thrown) {
    // Whoever asked went away, and hears no answer: that is no failure.
    if (request.signal.aborted && thrown === request.signal.reason)
      return new Response(null, { status: 499 });
    return errorResponse(thrown);
  }
}

/** Bytes of a request that is no file. */
export const MAX_JSON_BYTES = 2_000_000;

/** The JSON body of a request, read no further than two megabytes. Throws KerameusError `bad-request` or `request-size`. */
export async function readJson(request: Request): Promise<unknown> {
  const declared = Number(request.headers.get('content-length') ?? 0);
  if (declared > MAX_JSON_BYTES) throw tooLarge();
  const pieces: Uint8Array[] = [];
  let bytes = 0;
  for await (const piece of (request.body ?? []) as unknown as AsyncIterable<Uint8Array>) {
    bytes += piece.length;
    if (bytes > MAX_JSON_BYTES) throw tooLarge();
    pieces.push(piece);
  }
  let value: unknown;
  try {
    value = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(Buffer.concat(pieces)));
  } catch {
    throw badRequest('The request is not JSON.');
  }
  if (!isStorable(value)) throw badRequest('The request holds characters that no text has.');
  return value;
}

/** Whether all texts can be stored: no NUL, no half of a pair of code units. */
function isStorable(value: unknown): boolean {
  if (typeof value === 'string') return isText(value);
  if (Array.isArray(value)) return value.every(isStorable);
  if (typeof value !== 'object' || value === null) return true;
  return Object.entries(value).every(([key, each]) => isText(key) && isStorable(each));
}

function isText(text: string): boolean {
  return !text.includes('\0') && text.isWellFormed();
}

function tooLarge(): KerameusError {
  return new KerameusError({
    code: 'request-size',
    message: `The request is larger than ${MAX_JSON_BYTES / 1e6} MB.`,
    remedy: 'Reload the page and try again; artwork is dropped as a file.',
  });
}

export function badRequest(message: string): KerameusError {
  return new KerameusError({ code: 'bad-request', message, remedy: 'Reload the page and try again.' });
}

/** Text of an address or a header as people wrote it. Throws KerameusError `bad-request`. */
export function decodeText(text: string): string {
  try {
    const decoded = decodeURIComponent(text);
    if (isText(decoded)) return decoded;
  } catch {
    // Told below.
  }
  throw badRequest('The address or the name holds characters that no text has.');
}

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

/** An identifier from the address; anything else names nothing. */
export function readId(text: string, code = 'job-not-found'): string {
  if (UUID.test(text)) return text;
  throw new KerameusError({ code, message: 'There is no such thing here.', remedy: 'Go back to the jobs.' });
}

const SHA256 = /^[0-9a-f]{64}$/;

/** The hash of an artwork, or of what else is kept by its hash, from the address; anything else names nothing. */
export function readHash(text: string, what: 'artwork' | 'texture' | 'table' = 'artwork'): string {
  if (SHA256.test(text)) return text;
  throw new KerameusError({
    code: `${what}-missing`,
    message: `There is no such ${what}.`,
    remedy: 'Go back to the jobs.',
  });
}
