/** What comes in from outside, and what goes wrong around the application: nothing of it ends a process or loses a job. */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import http from 'node:http';
import path from 'node:path';
import { type APIRequestContext, expect, test } from '@playwright/test';
import pg from 'pg';
import type { JobCard } from '@/protocol/jobs';
import type { TaskView } from '@/protocol/tasks';
import { page as drawing } from '../drawings/constructs';
import { SLOW, hostileFiles } from '../hostile/hostileFiles';
import { SIGN } from './support';

const address = new URL(process.env.KERAMEUS_URL ?? 'http://127.0.0.1:4180');

interface Answer {
  readonly status: number;
  readonly headers: http.IncomingHttpHeaders;
  readonly text: string;
}

/** A request as bytes, with whatever headers. */
function ask(
  target: string,
  options: http.RequestOptions = {},
  body?: (request: http.ClientRequest) => void,
): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const request = http.request(
      { host: address.hostname, port: address.port, path: target, agent: false, ...options },
      (response) => {
        const parts: Buffer[] = [];
        response.on('data', (part: Buffer) => parts.push(part));
        response.on('error', reject);
        response.on('end', () =>
          resolve({
            status: response.statusCode!,
            headers: response.headers,
            text: Buffer.concat(parts).toString('utf8'),
          }),
        );
      },
    );
    request.on('error', reject);
    if (body) body(request);
    else request.end();
  });
}

async function upload(request: APIRequestContext, name: string, data: Buffer): Promise<string> {
  const response = await request.post('/api/uploads', {
    headers: {
      'x-file-name': encodeURIComponent(name),
      'x-file-size': String(data.length),
      'content-type': 'application/octet-stream',
    },
    data,
  });
  expect(response.status()).toBe(202);
  return ((await response.json()) as { taskId: string }).taskId;
}

async function taskOf(request: APIRequestContext, id: string): Promise<TaskView> {
  return (await request.get(`/api/tasks/${id}`)).json() as Promise<TaskView>;
}

async function ended(request: APIRequestContext, id: string, timeout = 120_000): Promise<TaskView> {
  await expect
    .poll(async () => (await taskOf(request, id)).state, { timeout })
    .toMatch(/^(done|failed|cancelled)$/);
  return taskOf(request, id);
}

test('pages of other names and other machines learn nothing', async () => {
  for (const target of ['/', '/api/jobs', '/api/stock', '/kernels.wasm', '/stock']) {
    const forged = await ask(target, { headers: { host: 'evil.example' } });
    expect(forged.status).toBe(403);
    expect(forged.text).not.toContain('sheet');
  }
  const own = await ask('/');
  expect(own.status).toBe(200);
  expect(own.headers['content-security-policy']).toMatch(/default-src 'self'.*script-src 'self' 'nonce-/);
  for (const target of ['/', '/api/jobs', '/kernels.wasm', '/api/jobs/none']) {
    expect((await ask(target)).headers['cross-origin-resource-policy']).toBe('same-origin');
  }
});

test('malformed requests are answered in words, none with an error of the server', async ({ request }) => {
  test.setTimeout(120_000);
  const [job] = (await (await request.get('/api/jobs')).json()) as JobCard[];
  const id = job!.id;
  const none = '00000000-0000-4000-8000-000000000000';
  const paths = [
    ...['%', '%00', '%ff', '..', '%2e%2e', "'", '\\', '💣'.repeat(40), 'x'.repeat(4000), none].flatMap(
      (bad) => [
        `/api/jobs/${encodeURI(bad).replace(/%25/g, '%')}`,
        `/api/jobs/${encodeURI(bad).replace(/%25/g, '%')}/films`,
        `/api/tasks/${none}/files/${encodeURI(bad).replace(/%25/g, '%')}`,
        `/api/artwork/${encodeURI(bad).replace(/%25/g, '%')}/tile?level=0&row=0&column=0`,
        `/api/artwork/${encodeURI(bad).replace(/%25/g, '%')}/outer`,
        `/api/artwork/${encodeURI(bad).replace(/%25/g, '%')}/drawing`,
      ],
    ),
    ...['0', '-1', '1.5', '2147483648', '99999999999999999999', 'NaN', '%00', ''].flatMap((bad) => [
      `/api/jobs/${id}/versions/${bad}`,
      `/api/jobs/${id}/versions?before=${bad}`,
      `/api/artwork/${'a'.repeat(64)}/tile?level=${bad}&row=0&column=0`,
      `/api/jobs/${id}/wedge?plate=${bad}`,
    ]),
  ];
  for (const target of paths) {
    for (const method of ['GET', 'POST', 'PATCH', 'DELETE']) {
      // What is deleted here is not there.
      if (method === 'DELETE' && target.startsWith(`/api/jobs/${id}`)) continue;
      const found = await ask(target, { method, headers: { 'content-type': 'application/json' } });
      expect(`${method} ${target.slice(0, 80)}: ${found.status < 500}`).toMatch(/true$/);
    }
  }
  const bodies = [
    '',
    '{',
    'null',
    '[]',
    '"\\u0000"',
    '{"base":1,"sheet":{"name":"\\ud800"}}',
    '{"base":1.5,"move":"undo"}',
    '{"base":99999999999,"move":"undo"}',
    '{"base":1,"move":-7}',
    '{"version":2147483648}',
    '{"version":1e400}',
    '{"name":"a\\u0000b"}',
    `{"name":"${'x'.repeat(100_000)}"}`,
    '['.repeat(100_000),
    '{"__proto__":{"base":1}}',
  ];
  const routes: [string, string][] = [
    ['PATCH', `/api/jobs/${id}`],
    ['POST', `/api/jobs/${id}/head`],
    ['POST', `/api/jobs/${id}/films`],
    ['POST', `/api/jobs/${id}/print`],
    ['PATCH', `/api/jobs/${id}/versions/1`],
    ['PUT', '/api/stock'],
  ];
  for (const [method, target] of routes) {
    for (const text of bodies) {
      const found = await ask(target, { method, headers: { 'content-type': 'application/json' } }, (sent) =>
        sent.end(text),
      );
      expect(`${method} ${target} ${text.slice(0, 40)}: ${found.status}`).toMatch(/: 4\d\d$/);
      expect(JSON.parse(found.text)).toMatchObject({ message: expect.stringMatching(/\.$/) });
    }
  }
});

test('what is too large is refused before it is read', async () => {
  const megabyte = Buffer.alloc(1_000_000, 0x20);
  const [job] = JSON.parse((await ask('/api/jobs')).text) as JobCard[];
  const declared = await ask(
    `/api/jobs/${job!.id}`,
    { method: 'PATCH', headers: { 'content-length': 300_000_000 } },
    (sent) => void sent.write(megabyte),
  );
  expect(declared.status).toBe(413);
  // Without a length it is read no further than its limit.
  const chunked = await ask(`/api/jobs/${job!.id}`, { method: 'PATCH' }, (sent) => {
    for (let k = 0; k < 4; k++) sent.write(megabyte);
    sent.end();
  });
  expect(chunked.status).toBe(413);
  const file = await ask(
    '/api/uploads',
    { method: 'POST', headers: { 'x-file-name': 'a.png', 'content-length': 600_000_000 } },
    (sent) => void sent.write(megabyte),
  );
  expect(file.status).toBe(413);
  expect(JSON.parse(file.text).message).toMatch(/larger than 500 MB/);
});

test('slow senders keep nobody from working, and are told when they are too many', async ({ request }) => {
  const open: http.ClientRequest[] = [];
  const answers: Promise<number>[] = [];
  for (let k = 0; k < 12; k++) {
    answers.push(
      ask(
        '/api/uploads',
        { method: 'POST', headers: { 'x-file-name': `slow-${k}.png`, 'content-length': 5000 } },
        (sent) => {
          open.push(sent);
          sent.write('x');
        },
      ).then(
        ({ status }) => status,
        () => 0,
      ),
    );
  }
  const refused = await Promise.race([
    Promise.all(
      answers.map((each) => Promise.race([each, new Promise<number>((r) => setTimeout(r, 3000, -1))])),
    ),
  ]);
  expect(refused.filter((status) => status === 503).length).toBeGreaterThanOrEqual(4);
  const started = Date.now();
  for (let k = 0; k < 10; k++) expect((await request.get('/api/jobs')).status()).toBe(200);
  expect(Date.now() - started).toBeLessThan(10_000);
  open.forEach((each) => each.destroy());
  await Promise.all(answers);
  // And then files come in again.
  await expect
    .poll(
      async () =>
        (
          await ask(
            '/api/uploads',
            { method: 'POST', headers: { 'x-file-name': 'a.png', 'content-length': 1 } },
            (s) => s.end('x'),
          )
        ).status,
    )
    .toBe(202);
});

test('hostile files end as jobs or as sentences, and good ones beside them come in', async ({ request }) => {
  test.setTimeout(900_000);
  // Those that take up their whole time are tried without a server.
  const files = hostileFiles().filter(({ name, bytes }) => !SLOW.test(name) && bytes.length > 0);
  const waiting: [string, boolean, string][] = [];
  for (const { name, fileName, bytes, refused } of files) {
    waiting.push([name, refused, await upload(request, fileName, Buffer.from(bytes))]);
  }
  const good = await upload(request, 'good.svg', Buffer.from(SIGN.replace('<svg', '<!-- beside --><svg')));
  expect((await ended(request, good, 600_000)).state).toBe('done');
  for (const [name, refused, id] of waiting) {
    const task = await ended(request, id, 600_000);
    expect(`${name}: ${task.state}`).toMatch(refused ? /failed$/ : /(done|failed)$/);
    if (!task.error) continue;
    expect(task.error.code).not.toBe('internal');
    expect(task.error.message).toMatch(/\.$/);
    expect(task.error.remedy).toMatch(/\.$/);
  }
});

test('an import can be cancelled within five seconds, whatever it is busy with', async ({ request }) => {
  const filter = '<filter id="f"><feTurbulence baseFrequency=".9" numOctaves="20"/></filter>';
  const text = drawing('<g filter="url(#f)"><rect width="200" height="160"/></g>', filter);
  const id = await upload(request, 'busy.svg', Buffer.from(text));
  await expect
    .poll(async () => (await taskOf(request, id)).progress?.step, { timeout: 60_000 })
    .toMatch(/Decoding/);
  await request.post(`/api/tasks/${id}/cancel`);
  const asked = Date.now();
  expect((await ended(request, id, 15_000)).state).toBe('cancelled');
  expect(Date.now() - asked).toBeLessThan(5000);
});

test('a sheet that lies about its artwork is stored with the truth', async ({ request }) => {
  const [job] = (await (await request.get('/api/jobs')).json()) as JobCard[];
  const { version, sheet } = (await (await request.get(`/api/jobs/${job!.id}`)).json()) as {
    version: number;
    sheet: { artworks: { widthPx: number; heightPx: number }[] };
  };
  const lie = { ...sheet, artworks: [{ ...sheet.artworks[0], widthPx: 1.5, heightPx: 99_999_999 }] };
  const saved = await request.patch(`/api/jobs/${job!.id}`, { data: { base: version, sheet: lie } });
  expect(saved.status()).toBe(200);
  expect(((await saved.json()) as { sheet: unknown }).sheet).toMatchObject({ artworks: sheet.artworks });
  await request.post(`/api/jobs/${job!.id}/head`, { data: { base: version + 1, move: 'undo' } });
});

test.describe('a worker that is stopped and goes on when another has its task changes nothing', () => {
  const database = process.env.KERAMEUS_DATABASE_URL!;
  let client: pg.Client;
  let second: ChildProcess;

  test.beforeAll(async () => {
    client = new pg.Client({ connectionString: database });
    await client.connect();
    const dist = process.env.KERAMEUS_DIST ?? 'dist';
    second = spawn(process.execPath, [path.resolve(dist, 'worker.mjs')], {
      env: process.env,
      stdio: 'ignore',
    });
  });
  test.afterAll(async () => {
    second.kill('SIGTERM');
    await client.end();
  });

  const row = async (id: string) =>
    (await client.query('select state, lease_owner, progress from tasks where id = $1', [id])).rows[0] as {
      state: string;
      lease_owner: string | null;
      progress: { step: string } | null;
    };

  /** Stops whoever has a task as soon as it says a word, lets it go on when another one has it, and waits for the end. */
  async function freeze(request: APIRequestContext, id: string, step: RegExp): Promise<TaskView> {
    await expect
      .poll(
        async () => {
          const { state, progress } = await row(id);
          return state === 'done' || step.test(progress?.step ?? '');
        },
        { timeout: 60_000, intervals: [20] },
      )
      .toBe(true);
    const owner = (await row(id)).lease_owner!;
    const pid = Number(owner.split('-').at(-2));
    if ((await row(id)).state === 'running') {
      process.kill(pid, 'SIGSTOP');
      try {
        await expect
          .poll(
            async () => {
              const now = await row(id);
              return now.lease_owner !== owner || now.state !== 'running';
            },
            { timeout: 60_000 },
          )
          .toBe(true);
      } finally {
        process.kill(pid, 'SIGCONT');
      }
    }
    return ended(request, id);
  }

  for (const step of [/Reading/, /Decoding/, /Finding/, /Storing/]) {
    test(`import, ${step.source}`, async ({ request }) => {
      test.setTimeout(240_000);
      const noise = Array.from(
        { length: 3000 },
        (_, k) =>
          `<circle cx="${(k * 37) % 200}" cy="${(k * 53) % 160}" r="3" fill="#${k % 2 ? 'c8382e' : '1e6f8c'}"/>`,
      ).join('');
      const text = drawing(
        `<desc>${step.source} ${Date.now()}</desc><rect width="200" height="160" fill="#f2b134"/>${noise}`,
      );
      const id = await upload(request, `frozen ${step.source}.svg`, Buffer.from(text));
      const task = await freeze(request, id, step);
      expect(task.error).toBeNull();
      expect(task.state).toBe('done');
      const jobs = (await (await request.get('/api/jobs')).json()) as JobCard[];
      expect(jobs.filter(({ name }) => name === `frozen ${step.source}`)).toHaveLength(1);
      expect((await request.get(`/api/jobs/${task.result!.jobId!}/export`)).status()).toBe(200);
    });
  }

  test('films', async ({ request }) => {
    test.setTimeout(300_000);
    const jobs = (await (await request.get('/api/jobs')).json()) as JobCard[];
    const job = jobs.find(({ name }) => name === 'Kite & Kelp festival crew') ?? jobs[0]!;
    const made = await request.post(`/api/jobs/${job.id}/films`, { data: { version: job.version } });
    const { taskId } = (await made.json()) as { taskId: string };
    const task = await freeze(request, taskId, /Rendering/);
    expect(task.state).toBe('done');
    expect(new Set(task.files.map(({ name }) => name)).size).toBe(task.files.length);
  });

  test('an approval', async ({ request }) => {
    test.setTimeout(240_000);
    const [job] = (await (await request.get('/api/jobs')).json()) as JobCard[];
    const made = await request.post(`/api/jobs/${job!.id}/approval`);
    const { taskId } = (await made.json()) as { taskId: string };
    const task = await freeze(request, taskId, /Drawing/);
    expect(task.state).toBe('done');
    expect(task.files.map(({ name }) => name)).toEqual(['approval.png', 'approval.pdf']);
  });
});

test('what nothing needs any more is tidied up by its rule, and nothing else', async ({ request }) => {
  const client = new pg.Client({ connectionString: process.env.KERAMEUS_DATABASE_URL! });
  await client.connect();
  try {
    const [job] = (await (await request.get('/api/jobs')).json()) as JobCard[];
    const copy = async () =>
      ((await (await request.post(`/api/jobs/${job!.id}/duplicate`)).json()) as { id: string }).id;
    const [old, recent] = [await copy(), await copy()];
    for (const id of [old, recent]) await request.delete(`/api/jobs/${id}`);
    await client.query(`update jobs set deleted_at = now() - interval '31 days' where id = $1`, [old]);
    const file = async (age: string) =>
      (
        await client.query(
          `insert into files (name, type, size, sha256, created_at) values ('lost', 'x', 0, '', now() - $1::interval) returning id`,
          [age],
        )
      ).rows[0].id as string;
    const [lost, fresh] = [await file('2 days'), await file('1 hour')];
    const texture = async (sha256: string, age: string) =>
      client.query(`insert into textures (sha256, bytes, created_at) values ($1, '', now() - $2::interval)`, [
        sha256,
        age,
      ]);
    const [unworn, worn, newer] = ['a', 'b', 'c'].map((digit) => digit.repeat(64)) as [
      string,
      string,
      string,
    ];
    await texture(unworn, '31 days');
    await texture(worn, '31 days');
    await texture(newer, '29 days');
    await client.query(
      `insert into solved_tables (name, created_at) values ($1, now() - interval '2 days'), ($2, now())`,
      [unworn, newer],
    );
    // The deleted job that can still be brought back wears one of the old pictures.
    await client.query(
      `update job_versions set sheet = jsonb_set(sheet, '{texture}', jsonb_build_object('picture',
         jsonb_build_object('sha256', $2::text))) where job_id = $1`,
      [recent, worn],
    );
    const dist = process.env.KERAMEUS_DIST ?? 'dist';
    const told = execFileSync(process.execPath, [path.resolve(dist, 'space.mjs'), '--tidy'], {
      env: process.env,
      encoding: 'utf8',
    });
    expect(told).toMatch(
      /Removed [1-9]\d* deleted jobs, \d+ ended tasks, \d+ artworks, 1 pictures of textures, [1-9]\d* files/,
    );
    expect(told).toMatch(/MB +\d+ {2}films and their archives/);
    const kept = async (table: string, id: string) =>
      (await client.query(`select 1 from ${table} where id = $1`, [id])).rowCount === 1;
    expect([await kept('jobs', old), await kept('jobs', recent)]).toEqual([false, true]);
    expect([await kept('files', lost), await kept('files', fresh)]).toEqual([false, true]);
    const { rows } = await client.query('select sha256 from textures where sha256 = any($1) order by 1', [
      [unworn, worn, newer],
    ]);
    expect(rows.map(({ sha256 }) => sha256 as string)).toEqual([worn, newer]);
    const tables = await client.query('delete from solved_tables where name = any($1) returning name', [
      [unworn, newer],
    ]);
    expect(tables.rows).toEqual([{ name: newer }]);
    // A sheet that no reader of job sheets has checked goes again, and its picture with it.
    await client.query('delete from jobs where id = $1', [recent]);
    await client.query('delete from textures where sha256 = any($1)', [[worn, newer]]);
    expect((await request.get(`/api/jobs/${job!.id}/picture`)).status()).toBe(200);
  } finally {
    await client.end();
  }
});

test('the database role of the application may do nothing but own its database', async () => {
  const client = new pg.Client({ connectionString: process.env.KERAMEUS_DATABASE_URL! });
  await client.connect();
  try {
    const { rows } = await client.query(
      'select rolsuper, rolcreatedb, rolcreaterole, rolreplication from pg_roles where rolname = current_user',
    );
    expect(rows).toEqual([
      { rolsuper: false, rolcreatedb: false, rolcreaterole: false, rolreplication: false },
    ]);
    await expect(client.query(`copy (select 1) to program 'true'`)).rejects.toThrow(
      /permission denied|must be superuser/,
    );
    await expect(client.query(`select pg_read_file('/etc/hostname')`)).rejects.toThrow(/permission denied/);
    const other = new URL(process.env.KERAMEUS_DATABASE_URL!);
    other.password = 'wrong';
    await expect(new pg.Client({ connectionString: other.href }).connect()).rejects.toThrow(/password/);
  } finally {
    await client.end();
  }
});

test('the log tells neither sheets nor addresses of databases', () => {
  const log = process.env.KERAMEUS_TEST_LOG;
  test.skip(!log, 'only where the log is known');
  const text = readFileSync(log!, 'utf8');
  expect(text).not.toContain('kerameus-job');
  expect(text).not.toMatch(/postgres:\/\/[^ ]*:[^ ]*@/);
});
