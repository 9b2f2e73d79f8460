import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { drizzle } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import { type JobSheet, SHEET_VERSION } from '@/core/sheet';
import type { TaskView } from '@/protocol/tasks';
import { connect } from '@/server/db/database';
import * as schema from '@/server/db/schema';
import { forgottenTasks } from '@/server/tasks/taskStore';
import { version9 } from '../olderSheet';
import { SIGN, chooseArtwork, openSign, settled, temporaryFile } from './support';

const database = process.env.KERAMEUS_DATABASE_URL!;

test('changing requests of other origins are refused', async ({ request, baseURL }) => {
  const jobs = (await (await request.get('/api/jobs')).json()) as { id: string }[];
  const id = jobs[0]!.id;
  const foreign: Record<string, string>[] = [
    { origin: 'http://evil.example' },
    { 'sec-fetch-site': 'cross-site' },
  ];
  for (const headers of foreign) {
    for (const response of [
      await request.delete(`/api/jobs/${id}`, { headers }),
      await request.post('/api/uploads', { headers: { ...headers, 'x-file-name': 'a.svg' }, data: 'x' }),
      await request.post(`/api/jobs/${id}/films`, { headers, data: { version: 1 } }),
    ]) {
      expect(response.status()).toBe(403);
    }
  }
  const own = await request.post(`/api/jobs/${id}/head`, {
    headers: { origin: baseURL! },
    data: { base: 999, move: 'undo' },
  });
  expect(own.status()).toBe(409);
});

test('what is no job, no sheet or no tile is answered with words', async ({ request }) => {
  const jobs = (await (await request.get('/api/jobs')).json()) as { id: string }[];
  expect((await request.get('/api/jobs/none')).status()).toBe(404);
  const bad = await request.patch(`/api/jobs/${jobs[0]!.id}`, { data: { base: 1, sheet: { name: 'x' } } });
  expect(bad.status()).toBe(400);
  expect((await bad.json()).remedy).toBeTruthy();
  expect((await request.get(`/api/artwork/${'0'.repeat(64)}/tile?level=0&row=0&column=0`)).status()).toBe(
    404,
  );
  expect((await request.get(`/api/artwork/${'0'.repeat(64)}/tile?level=-1&row=x&column=0`)).status()).toBe(
    400,
  );
});

test('an upload that is cut off is refused', async ({ request }) => {
  const response = await request.post('/api/uploads', {
    headers: { 'x-file-name': 'a.svg', 'x-file-size': '5000', 'content-type': 'application/octet-stream' },
    data: Buffer.from('<svg/>'),
  });
  expect(response.status()).toBe(400);
  expect((await response.json()).message).toMatch(/6 of 5000 bytes/);
});

test('films are cancelled at once and leave no file', async ({ page, request }) => {
  const id = await openSign(page, 'cancelled.svg');
  await slowDown(request, id);
  const taskId = await startFilms(request, id);
  await expect.poll(async () => (await task(request, taskId)).state, { timeout: 20_000 }).toBe('running');
  await request.post(`/api/tasks/${taskId}/cancel`);
  await expect.poll(async () => (await task(request, taskId)).state, { timeout: 20_000 }).toBe('cancelled');
  expect((await task(request, taskId)).files).toEqual([]);
});

test('one file that is dropped twice at the same time becomes two jobs on one artwork', async ({
  request,
}) => {
  const data = SIGN.replace('<svg', `<svg data-once="${Date.now()}"`);
  const upload = async (name: string) => {
    const headers = { 'x-file-name': name, 'x-file-size': String(Buffer.byteLength(data)) };
    const response = await request.post('/api/uploads', { headers, data: Buffer.from(data) });
    return ((await response.json()) as { taskId: string }).taskId;
  };
  const ids = await Promise.all(['twin a.svg', 'twin b.svg'].map(upload));
  for (const id of ids) {
    await expect.poll(async () => (await task(request, id)).state, { timeout: 60_000 }).toBe('done');
  }
  const jobs = await Promise.all(ids.map(async (id) => (await task(request, id)).result!.jobId!));
  expect(new Set(jobs).size).toBe(2);
});

test('a task without a bell, as a worker leaves it that ends while it gives it back, is taken up all the same', async ({
  page,
  request,
}) => {
  const id = await openSign(page, 'forgotten.svg');
  const client = new pg.Client({ connectionString: database });
  await client.connect();
  try {
    const { rows } = await client.query<{ id: string }>(
      `insert into tasks (kind, payload, job_id, state, created_at)
       values ('picture', $1, $2, 'queued', now() - interval '1 minute') returning id`,
      [JSON.stringify({ kind: 'picture', jobId: id }), id],
    );
    await expect.poll(async () => (await task(request, rows[0]!.id)).state, { timeout: 45_000 }).toBe('done');
  } finally {
    await client.end();
  }
});

test('a job that an earlier version stored is listed, opened, gone back in and kept its artwork for as it was', async ({
  page,
  request,
}) => {
  await page.goto('/');
  // Artwork of no other job.
  await chooseArtwork(page, temporaryFile('older.svg', SIGN.replace('#2b7a4b', '#2b7a4c')));
  await page.waitForURL(/\/jobs\/[0-9a-f-]{36}$/);
  await settled(page);
  const id = page.url().split('/').pop()!;
  const client = new pg.Client({ connectionString: database });
  await client.connect();
  try {
    const { sheet } = (await (await request.get(`/api/jobs/${id}`)).json()) as { sheet: JobSheet };
    const older = version9(sheet);
    const { sha256 } = older.artwork;
    // As if it had come in long ago: it stays while a job prints it, of whatever version.
    await client.query(`update artworks set created_at = now() - interval '400 days' where sha256 = $1`, [
      sha256,
    ]);
    const isKeptAfterTidying = async () => {
      const tidy = path.resolve(process.env.KERAMEUS_DIST ?? 'dist', 'space.mjs');
      execFileSync(process.execPath, [tidy, '--tidy'], { env: process.env });
      return (await client.query('select 1 from artworks where sha256 = $1', [sha256])).rowCount === 1;
    };
    expect(await isKeptAfterTidying()).toBe(true);
    await client.query('update job_versions set sheet = $1 where job_id = $2', [JSON.stringify(older), id]);
    expect(await isKeptAfterTidying()).toBe(true);
  } finally {
    await client.end();
  }
  await page.goto('/');
  await expect(page.locator(`a[href="/jobs/${id}"]`).first()).toBeVisible();
  await page.goto(`/jobs/${id}`);
  await settled(page);
  await page.getByRole('textbox', { name: 'Width' }).fill('5 in');
  await page.keyboard.press('Enter');
  await expect
    .poll(async () => {
      const now = (await (await request.get(`/api/jobs/${id}`)).json()) as {
        sheet: JobSheet;
        version: number;
      };
      return [now.version, now.sheet.version, Math.round(now.sheet.print.widthMm)];
    })
    .toEqual([2, SHEET_VERSION, 127]);
  const versions = (await (await request.get(`/api/jobs/${id}/versions`)).json()) as object;
  expect(JSON.stringify(versions)).toContain('print width');
});

test('a worker that is killed in mid-film leaves no half film, and another takes its work up within a minute', async ({
  page,
  request,
}) => {
  test.setTimeout(180_000);
  const id = await openSign(page, 'killed.svg');
  await slowDown(request, id);
  const second = startWorker();
  const client = new pg.Client({ connectionString: database });
  await client.connect();
  try {
    const taskId = await startFilms(request, id);
    const owner = async () =>
      (await client.query('select lease_owner, progress from tasks where id = $1', [taskId])).rows[0] as {
        lease_owner: string | null;
        progress: { items: { done: number }[] } | null;
      };
    await expect
      .poll(async () => (await owner()).progress?.items[0]?.done ?? 0, { timeout: 60_000 })
      .toBeGreaterThan(0.05);
    const first = (await owner()).lease_owner!;
    // Owners are named host-pid-mark.
    const pid = Number(first.split('-').at(-2));
    process.kill(pid, 'SIGKILL');
    const killed = Date.now();
    expect((await task(request, taskId)).files).toEqual([]);
    await expect.poll(async () => (await owner()).lease_owner, { timeout: 60_000 }).not.toBe(first);
    expect(Date.now() - killed).toBeLessThan(60_000);
    await expect.poll(async () => (await task(request, taskId)).state, { timeout: 90_000 }).toBe('done');
    const done = await task(request, taskId);
    expect(done.files.map((file) => file.name)).toEqual(
      expect.arrayContaining(['films.zip', 'films.pdf', '01-base-white.tif']),
    );
  } finally {
    second.kill('SIGTERM');
    await client.end();
  }
});

test('work goes on when the database is gone for ten seconds in mid-film and when its result is due', async ({
  page,
  request,
}) => {
  test.setTimeout(180_000);
  const id = await openSign(page, 'database away.svg');
  await slowDown(request, id);
  const client = new pg.Client({ connectionString: database });
  await client.connect();
  try {
    const taskId = await startFilms(request, id);
    const done = async () =>
      (
        (await client.query('select progress from tasks where id = $1', [taskId])).rows[0] as {
          progress: { items: { done: number }[] } | null;
        }
      ).progress?.items[0]?.done ?? 0;
    await expect.poll(done, { timeout: 60_000 }).toBeGreaterThan(0.6);
    // Every connection but this one is cut, again and again, as if there were no database.
    const until = Date.now() + 10_000;
    let cut = 0;
    while (Date.now() < until) {
      const { rowCount } = await client.query(
        `select pg_terminate_backend(pid) from pg_stat_activity
         where datname = current_database() and pid <> pg_backend_pid() and backend_type = 'client backend'`,
      );
      cut += rowCount ?? 0;
      await new Promise((resolve) => setTimeout(resolve, 150));
    }
    expect(cut).toBeGreaterThan(5);
    const state = async () =>
      ((await client.query('select state from tasks where id = $1', [taskId])).rows[0] as { state: string })
        .state;
    await expect.poll(state, { timeout: 120_000 }).toBe('done');
    await expect
      .poll(async () => (await task(request, taskId)).files.map((file) => file.name), { timeout: 20_000 })
      .toEqual(expect.arrayContaining(['films.zip', 'films.pdf', '01-base-white.tif']));
  } finally {
    await client.end();
  }
});

type Request = Parameters<Parameters<typeof test>[2]>[0]['request'];

async function task(request: Request, id: string): Promise<TaskView> {
  return (await request.get(`/api/tasks/${id}`)).json() as Promise<TaskView>;
}

async function startFilms(request: Request, jobId: string): Promise<string> {
  const { version } = await (await request.get(`/api/jobs/${jobId}`)).json();
  const response = await request.post(`/api/jobs/${jobId}/films`, { data: { version } });
  return (await response.json()).taskId;
}

/** A large, fine film takes long enough to be interrupted. */
async function slowDown(request: Request, jobId: string): Promise<void> {
  const { version, sheet } = await (await request.get(`/api/jobs/${jobId}`)).json();
  const larger = {
    ...sheet,
    print: { widthMm: 300, heightMm: 200, chosen: false },
    film: { ...sheet.film, dpi: 1440 },
  };
  const saved = await request.patch(`/api/jobs/${jobId}`, { data: { base: version, sheet: larger } });
  expect(saved.status()).toBe(200);
}

function startWorker(): ChildProcess {
  const dist = process.env.KERAMEUS_DIST ?? 'dist';
  return spawn(process.execPath, [path.resolve(dist, 'worker.mjs')], { env: process.env, stdio: 'ignore' });
}

test('a task whose worker fell silent is rung for before all that wait, and nothing is rung for twice', async () => {
  const { pool } = connect(database);
  const client = await pool.connect();
  try {
    // Nobody else sees them, and they are gone afterwards.
    await client.query('begin');
    const put = async (state: string, lease: string | null, count: number) => {
      const { rows } = await client.query<{ id: string }>(
        `insert into tasks (kind, payload, state, lease_owner, lease_until, created_at)
          select 'picture', '{"kind":"picture","version":1}', $1, $2::text,
            case when $2::text is null then null else now() - interval '1 minute' end,
            now() - interval '1 hour' - n * interval '1 second'
          from generate_series(1, $3::int) as n returning id`,
        [state, lease, count],
      );
      return rows.map(({ id }) => id);
    };
    const waiting = await put('queued', null, 300);
    const [silent] = await put('running', 'nobody-1-x', 1);
    await client.query('update tasks set created_at = now() where id = $1', [silent]);
    const inside = drizzle(client, { schema });
    const before = await forgottenTasks(inside);
    expect(before[0]).toMatchObject({ id: silent, silent: true });
    expect(before.length).toBeGreaterThan(100);
    await client.query(
      `insert into pgboss.job (name, data)
        select 'pictures', jsonb_build_object('taskId', id) from unnest($1::text[]) as id`,
      [[...waiting.slice(1), silent]],
    );
    const after = (await forgottenTasks(inside)).map(({ id }) => id);
    expect(after).toContain(waiting[0]);
    expect(after).not.toContain(silent);
    expect(after.filter((id) => waiting.includes(id))).toHaveLength(1);
  } finally {
    await client.query('rollback');
    client.release();
    await pool.end();
  }
});
