import { randomBytes } from 'node:crypto';
import { type IncomingMessage, type ServerResponse, createServer } from 'node:http';
import next from 'next';
import { MAX_UPLOAD_BYTES } from '@/protocol/tasks';
import { assertAllowed, isLoopback } from '../http/door';
import { MAX_JSON_BYTES } from '../http/respond';
import { log, tellUser } from '../log';
import { projectRoot } from '../projectRoot';

/** Where files are dropped; every other request is small. */
const UPLOADS = '/api/uploads';
/** A refused body is read for so long before the connection is closed: a sender that is cut off in the middle sees no answer. */
const DRAIN_MS = 10_000;
const HEADERS_MS = 15_000;
const MOST_CONNECTIONS = 300;

function header(request: IncomingMessage, name: string): string | null {
  const value = request.headers[name];
  return typeof value === 'string' ? value : null;
}

/** Answers with a report and lets what is still coming run out. */
function refuse(request: IncomingMessage, response: ServerResponse, status: number, report: object): void {
  response.writeHead(status, {
    'content-type': 'application/json',
    'cross-origin-resource-policy': 'same-origin',
    'x-content-type-options': 'nosniff',
    connection: 'close',
  });
  response.end(JSON.stringify(report));
  request.resume();
  setTimeout(() => request.destroy(), DRAIN_MS).unref();
}

/** What is wrong with a request before anybody looks at what it asks for; null where nothing is. */
function objection(request: IncomingMessage): { readonly status: number; readonly report: object } | null {
  try {
    assertAllowed({
      method: request.method ?? 'GET',
      host: header(request, 'host'),
      origin: header(request, 'origin'),
      site: header(request, 'sec-fetch-site'),
      peer: request.socket.remoteAddress ?? '',
    });
  } catch (thrown) {
    return { status: 403, report: tellUser(thrown) };
  }
  const [path = ''] = (request.url ?? '').split('?', 1);
  if (!isReadable(path)) {
    const report = {
      code: 'bad-request',
      message: 'The address holds characters that no address has.',
      remedy: 'Go back to the jobs.',
    };
    return { status: 400, report };
  }
  const most = path === UPLOADS ? MAX_UPLOAD_BYTES : MAX_JSON_BYTES;
  if (Number(header(request, 'content-length') ?? 0) > most) {
    const report = {
      code: path === UPLOADS ? 'upload-size' : 'request-size',
      message: `What was sent is larger than ${most / 1e6} MB.`,
      remedy:
        path === UPLOADS
          ? 'Save it with compression, or at 300 dpi at print size.'
          : 'Reload the page and try again.',
    };
    return { status: 413, report };
  }
  return null;
}

function isReadable(path: string): boolean {
  try {
    return !decodeURIComponent(path).includes('\0');
  } catch {
    return false;
  }
}

/** What a page may load: what this server gives out and nothing else. */
function contentPolicy(nonce: string): string {
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'`,
    // Charts and drawings set sizes and colours in style attributes.
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "worker-src 'self' blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
}

/** The page server: everything that comes in passes this door. */
async function main(): Promise<void> {
  const hostname = process.env.KERAMEUS_HOST ?? '127.0.0.1';
  const port = Number(process.env.PORT ?? 4180);
  if (!isLoopback(hostname)) {
    log.error(
      `KERAMEUS_HOST is ${hostname}, but nobody signs in here yet: whoever reaches the server could read and change every job. It serves this machine only; leave KERAMEUS_HOST out, or set it to 127.0.0.1.`,
    );
    process.exit(1);
  }
  const app = next({ dev: false, dir: projectRoot(), hostname, port });
  await app.prepare();
  const handle = app.getRequestHandler();
  const server = createServer((request, response) => {
    const refused = objection(request);
    if (refused) return refuse(request, response, refused.status, refused.report);
    const policy = contentPolicy(randomBytes(16).toString('base64'));
    // The framework takes the nonce for its own scripts from here.
    request.headers['content-security-policy'] = policy;
    response.setHeader('content-security-policy', policy);
    response.setHeader('cross-origin-resource-policy', 'same-origin');
    response.setHeader('cross-origin-opener-policy', 'same-origin');
    handle(request, response).catch((thrown: unknown) => {
      log.error({ err: thrown }, 'a request ended without an answer');
      if (!response.headersSent) response.writeHead(500);
      response.end();
    });
  });
  server.headersTimeout = HEADERS_MS;
  // Uploads bound their own time.
  server.requestTimeout = 0;
  server.maxConnections = MOST_CONNECTIONS;
  server.on('clientError', (_error, socket) => {
    if (socket.writable) socket.end('HTTP/1.1 400 Bad Request\r\nconnection: close\r\n\r\n');
  });
  server.listen(port, hostname, () => log.info({ port }, 'Kerameus answers.'));
  const stop = (): void => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
    setTimeout(() => process.exit(0), 2000).unref();
  };
  process.once('SIGINT', stop);
  process.once('SIGTERM', stop);
}

main().catch((thrown: unknown) => {
  log.error({ err: thrown }, 'the page server could not start');
  process.exit(1);
});
