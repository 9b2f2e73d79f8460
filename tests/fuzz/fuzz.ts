/**
 * Sends a running application what nobody should send it, for a given time: random and damaged artwork, malformed requests, senders that give up, cancelled
 * and killed work. Ends with an error where an answer was none, where a legal drawing did not come in, or where a good job's films changed.
 *   fuzz MINUTES SEED      with KERAMEUS_URL and KERAMEUS_DATABASE_URL
 */
import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import nodePath from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import pg from 'pg';
import sharp from 'sharp';
import type { JobCard } from '@/protocol/jobs';
import type { TaskView } from '@/protocol/tasks';
import { constructs } from '../drawings/constructs';
import { randomDrawings, randomNumbers } from '../drawings/randomDrawings';
import { hostileFiles } from '../hostile/hostileFiles';

const url = new URL(process.env.KERAMEUS_URL!);
const [minutes, seed] = process.argv.slice(2).map(Number) as [number, number];
const random = randomNumbers(seed);
const counts: Record<string, number> = {};
const complaints: string[] = [];
const note = (what: string): void => void (counts[what] = (counts[what] ?? 0) + 1);
const one = <T>(values: readonly T[]): T => values[Math.floor(random() * values.length)]!;

interface Answer {
  readonly status: number;
  readonly text: string;
}

function send(
  method: string,
  path: string,
  headers: http.OutgoingHttpHeaders = {},
  body?: Uint8Array | string,
): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const request = http.request(
      { host: url.hostname, port: url.port, path, method, headers, agent: false, timeout: 60_000 },
      (response) => {
        let text = '';
        response.setEncoding('utf8');
        response.on('data', (part: string) => (text += part));
        response.on('error', reject);
        response.on('end', () => resolve({ status: response.statusCode!, text }));
      },
    );
    request.on('timeout', () => request.destroy(new Error('no answer within a minute')));
    request.on('error', reject);
    request.end(body);
  });
}

async function json<T>(method: string, path: string, body?: unknown): Promise<T> {
  const { status, text } = await send(
    method,
    path,
    { 'content-type': 'application/json' },
    body === undefined ? undefined : JSON.stringify(body),
  );
  if (status >= 400) throw new Error(`${method} ${path}: ${status} ${text.slice(0, 200)}`);
  return JSON.parse(text) as T;
}

/** What was uploaded, by its task, until its work has ended. */
const uploaded = new Map<string, { readonly name: string; readonly bytes: Uint8Array }>();

/** Complains of what came of an upload, and keeps the file. */
function complain(id: string, what: string): void {
  const file = uploaded.get(id);
  const folder = nodePath.join(process.env.KERAMEUS_ROOT!, '.local', 'fuzz-files');
  if (file) {
    mkdirSync(folder, { recursive: true });
    writeFileSync(nodePath.join(folder, file.name), file.bytes);
  }
  complaints.push(`${what}${file ? ` (.local/fuzz-files/${file.name})` : ''}`);
}

async function upload(name: string, bytes: Uint8Array): Promise<string | null> {
  const headers = {
    'x-file-name': encodeURIComponent(name),
    'x-file-size': bytes.length,
    'content-length': bytes.length,
  };
  const { status, text } = await send('POST', '/api/uploads', headers, bytes);
  if (status === 202) {
    const { taskId } = JSON.parse(text) as { taskId: string };
    uploaded.set(taskId, { name, bytes });
    return taskId;
  }
  if (status >= 500 && status !== 503) complaints.push(`upload ${name}: ${status} ${text.slice(0, 200)}`);
  return null;
}

async function finished(id: string, seconds = 600): Promise<TaskView> {
  const end = Date.now() + seconds * 1000;
  for (;;) {
    const task = await json<TaskView>('GET', `/api/tasks/${id}`).catch(() => null);
    if (task && ['done', 'failed', 'cancelled'].includes(task.state)) return task;
    if (Date.now() > end) throw new Error(`task ${id} did not end within ${seconds} s`);
    await wait(200);
  }
}

/** Bytes of a file with some of them changed, left out, doubled or cut off. */
function damaged(bytes: Uint8Array): Uint8Array {
  const out = Buffer.from(bytes);
  const kind = random();
  if (kind < 0.25) return out.subarray(0, Math.floor(out.length * random()));
  if (kind < 0.45) {
    const at = Math.floor(random() * out.length);
    return Buffer.concat([out.subarray(0, at), out.subarray(Math.floor(random() * at)), out.subarray(at)]);
  }
  for (let k = 0; k < 1 + random() * 12; k++)
    out[Math.floor(random() * out.length)] = Math.floor(random() * 256);
  return out;
}

/** A drawing some of whose numbers and words are others. */
function twisted(svg: string): string {
  const values = ['0', '-1', '1e9', '1e-9', 'NaN', '', '99999999999', 'url(#d0)', 'none', '100%', '-5e30'];
  return svg.replace(/="([^"]{1,12})"/g, (whole) => (random() < 0.06 ? `="${one(values)}"` : whole));
}

async function picture(): Promise<Buffer> {
  const [width, height] = [8 + Math.floor(random() * 300), 8 + Math.floor(random() * 300)];
  const data = Buffer.from(
    Array.from({ length: width * height * 3 }, (_, k) => ((k * (3 + Math.floor(seed % 7))) >> 4) & 255),
  );
  const image = sharp(data, { raw: { width, height, channels: 3 } });
  return one([
    () => image.png(),
    () => image.jpeg(),
    () => image.webp(),
    () => image.tiff({ compression: 'lzw' }),
  ])().toBuffer();
}

/** How a task that did not end stands in the database: its row, and the bells that were rung for it. */
async function standing(id: string): Promise<string> {
  const { rows } = await client.query<Record<string, unknown>>(
    `select state, attempts, cancel_requested, lease_owner, now() - lease_until as silent,
      (select json_agg(json_build_array(name, state, created_on::time(0), started_on::time(0), completed_on::time(0)) order by created_on)
        from pgboss.job where data->>'taskId' = tasks.id::text) as bells
      from tasks where id = $1`,
    [id],
  );
  return `: ${JSON.stringify(rows[0] ?? null)}`;
}

const waiting: Promise<void>[] = [];
let expectedJobs = 0;

function follow(what: string, id: string | null, mustCome: boolean): void {
  if (id === null) return;
  if (random() < 0.05) {
    mustCome = false;
    note('cancelled');
    void send('POST', `/api/tasks/${id}/cancel`).catch(() => undefined);
  }
  const work = finished(id).then(
    (task) => {
      note(`${what}: ${task.state}`);
      if (task.state === 'done') expectedJobs++;
      const { error } = task;
      const excused = error !== null && EXCUSED.includes(error.code);
      if (mustCome && task.state !== 'done' && !excused)
        complain(id, `${what} did not come in: ${JSON.stringify(error)}`);
      if (error && (error.code === 'internal' || !/\.$/.test(error.message) || !error.remedy))
        complain(id, `${what}: ${JSON.stringify(error)}`);
    },
    async (thrown: Error) => complain(id, `${what}: ${thrown.message}${await standing(id)}`),
  );
  waiting.push(work);
  void work.finally(() => {
    uploaded.delete(id);
    void waiting.splice(waiting.indexOf(work), 1);
  });
}

/** Why a legal drawing may stay out: all of it may lie beyond the page by chance, and workers are killed here, some of them three times over one drawing. */
const EXCUSED = ['artwork-empty', 'gave-up'];

const GARBAGE = [
  '%',
  '%00',
  '..',
  '-1',
  '1e309',
  'x'.repeat(3000),
  "';--",
  '\\',
  '{}',
  '0',
  '2147483648',
  '1.5',
  '%ff%fe',
];
const BODIES = [
  '',
  '{',
  '[]',
  'null',
  '{"base":1}',
  '{"base":1,"sheet":{}}',
  '{"base":0.5,"move":"undo"}',
  '{"version":-1}',
  '"\\u0000"',
  '{"a":"\\udc00"}',
  '['.repeat(5000),
];

async function malformed(jobId: string): Promise<void> {
  const id = one([jobId, jobId, '00000000-0000-4000-8000-000000000000', one(GARBAGE)]);
  const path = one([
    `/api/jobs/${id}`,
    `/api/jobs/${id}/${one(['films', 'head', 'print', 'wedge', 'picture', 'export', 'versions', 'approvals', `versions/${one(GARBAGE)}`])}?${one(['plate', 'before', 'all'])}=${one(GARBAGE)}`,
    `/api/artwork/${one(['a'.repeat(64), one(GARBAGE)])}/${one(['tile', 'outer', 'drawing'])}?level=${one(GARBAGE)}&row=0&column=${one(GARBAGE)}`,
    `/api/tasks/${id}/${one(['events', 'cancel', `files/${one(GARBAGE)}`])}`,
    `/${one(GARBAGE)}`,
  ]);
  const method = one(['GET', 'GET', 'POST', 'PATCH', 'PUT', 'HEAD', 'OPTIONS']);
  const headers: http.OutgoingHttpHeaders = { 'content-type': 'application/json' };
  if (random() < 0.1) headers.host = one(['evil.example', '', 'localhost:99999999']);
  if (random() < 0.1) headers.origin = one(['null', 'http://evil.example', '%']);
  const body = method === 'GET' || method === 'HEAD' ? undefined : one(BODIES);
  if (body !== undefined) headers['content-length'] = Buffer.byteLength(body);
  const { status, text } = await send(method, path.replace(/[^\x21-\x7e]/g, ''), headers, body);
  note(`requests: ${Math.floor(status / 100)}xx`);
  if (status >= 500 && status !== 503)
    complaints.push(`${method} ${path.slice(0, 100)}: ${status} ${text.slice(0, 200)}`);
}

/** Begins an upload and goes away. */
function abandoned(): Promise<void> {
  return new Promise((resolve) => {
    const request = http.request({
      host: url.hostname,
      port: url.port,
      path: '/api/uploads',
      method: 'POST',
      agent: false,
      headers: { 'x-file-name': 'gone.png', 'content-length': 90_000 },
    });
    request.on('error', () => undefined);
    request.write(Buffer.alloc(100 + random() * 5000));
    setTimeout(() => {
      request.destroy();
      note('abandoned uploads');
      resolve();
    }, random() * 400);
  });
}

/** Ends a worker in the middle of what it does. */
async function killWorker(client: pg.Client): Promise<void> {
  const { rows } = await client.query<{ lease_owner: string }>(
    `select lease_owner from tasks where state = 'running' limit 1`,
  );
  const pid = Number(rows[0]?.lease_owner.split('-').at(-2) ?? NaN);
  if (!Number.isInteger(pid)) return;
  const command = (() => {
    try {
      return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
    } catch {
      return '';
    }
  })();
  if (!command.includes('worker.mjs')) return;
  process.kill(pid, 'SIGKILL');
  note('killed workers');
}

async function filmsOf(jobId: string): Promise<string> {
  const { version } = await json<{ version: number }>('GET', `/api/jobs/${jobId}`);
  const { taskId } = await json<{ taskId: string }>('POST', `/api/jobs/${jobId}/films`, { version });
  const task = await finished(taskId, 400);
  if (task.state !== 'done') throw new Error(`films of the good job: ${JSON.stringify(task.error)}`);
  const hash = createHash('sha256');
  for (const { name } of task.files.filter((file) => file.name.endsWith('.tif'))) {
    const { text } = await send('GET', `/api/tasks/${taskId}/files/${name}`);
    hash.update(name).update(text);
  }
  return hash.digest('hex');
}

async function step(jobId: string, client: pg.Client): Promise<void> {
  const kind = random();
  if (kind < 0.6) return malformed(jobId);
  if (kind < 0.63) return abandoned();
  if (kind < 0.635) return killWorker(client);
  if (waiting.length >= 5) return void (await wait(100));
  const name = `fuzz ${Math.floor(random() * 1e9)}`;
  const drawn =
    random() < 0.5 ? one(constructs()).svg : randomDrawings(Math.floor(random() * 1e9), 1)[0]!.svg;
  if (kind < 0.74) follow('legal drawings', await upload(`${name}.svg`, Buffer.from(drawn)), true);
  else if (kind < 0.82)
    follow('twisted drawings', await upload(`${name}.svg`, Buffer.from(twisted(drawn))), false);
  else if (kind < 0.88)
    follow('damaged drawings', await upload(`${name}.svg`, damaged(Buffer.from(drawn))), false);
  else if (kind < 0.96)
    follow('damaged pictures', await upload(`${name}.png`, damaged(await picture())), false);
  else {
    const { fileName, bytes } = one(hostileFiles());
    if (bytes.length > 0) follow('hostile files', await upload(fileName, bytes), false);
  }
}

const client = new pg.Client({ connectionString: process.env.KERAMEUS_DATABASE_URL! });
await client.connect();
console.log(`Fuzz: ${minutes} minutes, seed ${seed}`);
try {
  const before = (await json<JobCard[]>('GET', '/api/jobs')).length;
  const first = await upload(
    'good.svg',
    Buffer.from(constructs()[0]!.svg.replace('<rect', `<desc>${seed}</desc><rect`)),
  );
  const good = (await finished(first!)).result!.jobId!;
  const films = await filmsOf(good);
  const end = Date.now() + minutes * 60_000;
  while (Date.now() < end && complaints.length < 20) {
    await step(good, client).catch((thrown: Error) => complaints.push(thrown.message));
  }
  await Promise.allSettled([...waiting]);
  if ((await filmsOf(good)) !== films)
    complaints.push('the films of a good job came out otherwise afterwards');
  const jobs = (await json<JobCard[]>('GET', '/api/jobs')).length;
  if (jobs !== before + 1 + expectedJobs)
    complaints.push(`${jobs} jobs stand there, ${before + 1 + expectedJobs} came in`);
} catch (thrown) {
  complaints.push((thrown as Error).message);
} finally {
  await client.end();
}
for (const [what, count] of Object.entries(counts).sort())
  console.log(`  ${String(count).padStart(6)}  ${what}`);
for (const complaint of complaints) console.log(`WRONG  ${complaint}`);
console.log(
  complaints.length === 0 ? 'Nothing was found.' : `${complaints.length} things were found; seed ${seed}.`,
);
process.exitCode = complaints.length === 0 ? 0 : 1;
