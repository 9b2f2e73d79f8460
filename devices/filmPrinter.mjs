// A simulated film printer that speaks IPP/1.1 (RFC 8010, RFC 8011): takes bilevel TIFF films, checks their resolution and width, and
// writes each as a small picture. It can be told to fail, at its start or while it runs.
//   node devices/filmPrinter.mjs [--port 6310] [--dpi 720] [--width 330.2] [--out FOLDER] [--seconds 1.5] [--fail out-of-film|offline]
//   POST /fail with out-of-film, offline or nothing tells it from then on.
import { mkdirSync } from 'node:fs';
import http from 'node:http';
import path from 'node:path';
import { parseArgs } from 'node:util';
import ipp from 'ipp';
import sharp from 'sharp';

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '6310' },
    dpi: { type: 'string', default: '720' },
    width: { type: 'string', default: '330.2' },
    out: { type: 'string', default: '.local/printed' },
    seconds: { type: 'string', default: '1.5' },
    fail: { type: 'string', default: '' },
  },
});
const dpi = Number(values.dpi);
const widthMm = Number(values.width);
const uri = `ipp://127.0.0.1:${values.port}/ipp/print`;
const started = Date.now();
const jobs = new Map();
let failure = values.fail;
mkdirSync(values.out, { recursive: true });

const upTime = () => Math.max(1, Math.round((Date.now() - started) / 1000));

/** Looks at a film and writes it as a picture; what is wrong with it, or null. */
async function develop(job, data) {
  try {
    const image = sharp(data, { limitInputPixels: false });
    const { width, density, format } = await image.metadata();
    if (format !== 'tiff') return 'the document is no TIFF';
    if (Math.round(density ?? 0) !== dpi)
      return `the film has ${Math.round(density ?? 0)} dpi, the printer ${dpi}`;
    const across = (width / density) * 25.4;
    if (across > widthMm + 0.5) return `the film is ${across.toFixed(1)} mm wide, the sheet ${widthMm} mm`;
    const name = job.name.replace(/[^a-zA-Z0-9._-]+/g, '-');
    await image
      .resize({ width: 600 })
      .png()
      .toFile(path.join(values.out, `${job.id}-${name}.png`));
    return null;
  } catch {
    return 'the document cannot be read';
  }
}

/** Printing takes a while; without film it stops and waits. */
async function work(job, data) {
  const wrong = await develop(job, data);
  const end = Date.now() + Number(values.seconds) * 1000;
  while (job.state !== 'canceled') {
    if (wrong) {
      Object.assign(job, { state: 'aborted', reasons: ['document-format-error'], message: wrong });
      return;
    }
    if (failure === 'out-of-film')
      Object.assign(job, { state: 'processing-stopped', reasons: ['media-empty'] });
    else if (Date.now() < end) Object.assign(job, { state: 'processing', reasons: ['job-printing'] });
    else {
      Object.assign(job, { state: 'completed', reasons: ['job-completed-successfully'], impressions: 1 });
      return;
    }
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

function jobAttributes(job) {
  return {
    'job-id': job.id,
    'job-uri': `${uri}/${job.id}`,
    'job-printer-uri': uri,
    'job-name': job.name,
    'job-originating-user-name': job.user,
    'job-state': job.state,
    'job-state-reasons': job.reasons,
    ...(job.message ? { 'job-state-message': job.message } : {}),
    'job-printer-up-time': upTime(),
    'job-impressions-completed': job.impressions,
  };
}

function printerAttributes() {
  const busy = [...jobs.values()].some((job) => job.state === 'processing');
  return {
    'printer-uri-supported': uri,
    'uri-security-supported': 'none',
    'uri-authentication-supported': 'none',
    'printer-name': 'film-printer',
    'printer-info': 'Simulated film printer',
    'printer-make-and-model': 'Simulated film printer',
    'printer-state': failure === 'out-of-film' ? 'stopped' : busy ? 'processing' : 'idle',
    'printer-state-reasons': failure === 'out-of-film' ? 'media-empty-error' : 'none',
    'printer-is-accepting-jobs': true,
    'ipp-versions-supported': ['1.1', '2.0'],
    'operations-supported': [
      'Print-Job',
      'Validate-Job',
      'Cancel-Job',
      'Get-Job-Attributes',
      'Get-Jobs',
      'Get-Printer-Attributes',
    ],
    'charset-configured': 'utf-8',
    'charset-supported': 'utf-8',
    'natural-language-configured': 'en-us',
    'generated-natural-language-supported': 'en-us',
    'document-format-default': 'image/tiff',
    'document-format-supported': ['image/tiff', 'application/octet-stream'],
    'queued-job-count': [...jobs.values()].filter(
      (job) => !['completed', 'aborted', 'canceled'].includes(job.state),
    ).length,
    'pdl-override-supported': 'not-attempted',
    'printer-up-time': upTime(),
    'compression-supported': 'none',
    'color-supported': false,
    'printer-resolution-default': [[dpi, dpi, 'dpi']],
    'printer-resolution-supported': [[dpi, dpi, 'dpi']],
  };
}

/** Where the document begins behind the attributes: after the end tag (3), found by walking over the values. */
function documentStart(body) {
  let at = 8;
  while (at < body.length) {
    const tag = body[at++];
    if (tag === 3) return at;
    if (tag < 0x10) continue;
    at += 2 + body.readUInt16BE(at);
    at += 2 + body.readUInt16BE(at);
  }
  return at;
}

function handle(body) {
  const request = ipp.parse(body);
  const given = request['operation-attributes-tag'] ?? {};
  const answer = (statusCode, groups = {}, message) => ({
    version: `${body[0]}.${body[1]}`,
    statusCode,
    id: request.id,
    'operation-attributes-tag': {
      'attributes-charset': 'utf-8',
      'attributes-natural-language': 'en-us',
      ...(message ? { 'status-message': message } : {}),
    },
    ...groups,
  });
  const jobOf = () => {
    const id =
      given['job-id'] ??
      Number(
        String(given['job-uri'] ?? '')
          .split('/')
          .at(-1),
      );
    return jobs.get(id);
  };
  const takes = ['image/tiff', 'application/octet-stream', undefined].includes(given['document-format']);
  switch (request.operation) {
    case 'Get-Printer-Attributes':
      return answer('successful-ok', { 'printer-attributes-tag': printerAttributes() });
    case 'Validate-Job':
      return takes ? answer('successful-ok') : answer('client-error-document-format-not-supported');
    case 'Print-Job': {
      if (!takes)
        return answer('client-error-document-format-not-supported', {}, 'only image/tiff is printed here');
      const data = body.subarray(documentStart(body));
      const job = {
        id: jobs.size + 1,
        name: String(given['job-name'] ?? 'untitled'),
        user: String(given['requesting-user-name'] ?? 'anonymous'),
        state: 'pending',
        reasons: ['none'],
        message: null,
        impressions: 0,
      };
      jobs.set(job.id, job);
      void work(job, data);
      return answer('successful-ok', { 'job-attributes-tag': jobAttributes(job) });
    }
    case 'Get-Job-Attributes': {
      const job = jobOf();
      if (!job) return answer('client-error-not-found');
      return answer('successful-ok', { 'job-attributes-tag': jobAttributes(job) });
    }
    case 'Cancel-Job': {
      const job = jobOf();
      if (!job) return answer('client-error-not-found');
      if (['completed', 'aborted', 'canceled'].includes(job.state))
        return answer('client-error-not-possible');
      Object.assign(job, { state: 'canceled', reasons: ['job-canceled-by-user'] });
      return answer('successful-ok');
    }
    case 'Get-Jobs': {
      const done = ['completed', 'aborted', 'canceled'];
      const wanted = given['which-jobs'] === 'completed';
      const found = [...jobs.values()].filter((job) => done.includes(job.state) === wanted);
      // The newest one: the package writes no more than one group of a kind.
      return answer(
        'successful-ok',
        found.length > 0 ? { 'job-attributes-tag': jobAttributes(found.at(-1)) } : {},
      );
    }
    default:
      return answer('server-error-operation-not-supported');
  }
}

const server = http.createServer((request, response) => {
  const parts = [];
  request.on('data', (part) => parts.push(part));
  request.on('end', () => {
    const body = Buffer.concat(parts);
    if (request.url === '/fail') {
      failure = body.toString().trim();
      response.end('ok');
      return;
    }
    if (failure === 'offline') {
      request.socket.destroy();
      return;
    }
    try {
      response.writeHead(200, { 'content-type': 'application/ipp' });
      response.end(ipp.serialize(handle(body)));
    } catch {
      response.end();
    }
  });
});
server.listen(Number(values.port), '127.0.0.1', () => console.log(`The film printer listens at ${uri}`));
