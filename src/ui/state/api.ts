import { type ErrorReport, KerameusError } from '@/core/units';
import type { JobSheet } from '@/core/sheet';
import type { JobCard, JobMove, JobView, VersionCard } from '@/protocol/jobs';
import type { Stock } from '@/core/sheet';
import type { StockView } from '@/protocol/stock';
import { type CleaningWish, MAX_UPLOAD_BYTES, type TaskView } from '@/protocol/tasks';

/** An answer of the server that is no success, or no answer at all (status 0). */
export class ApiError extends Error {
  readonly status: number;
  readonly report: ErrorReport;

  constructor(status: number, report: ErrorReport) {
    super(report.message);
    this.name = 'ApiError';
    this.status = status;
    this.report = report;
  }
}

const UNREACHABLE: ErrorReport = {
  code: 'unreachable',
  message: 'The server does not answer.',
  remedy: 'Your work is kept on this page and saved when it is back.',
};

async function call(path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch {
    throw new ApiError(0, UNREACHABLE);
  }
  if (response.ok || response.status === 409) return response;
  const report = (await response.json().catch(() => null)) as ErrorReport | null;
  throw new ApiError(response.status, report ?? UNREACHABLE);
}

function send(method: string, body: unknown): RequestInit {
  return { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) };
}

export async function fetchJobs(): Promise<JobCard[]> {
  return (await call('/api/jobs')).json() as Promise<JobCard[]>;
}

export async function fetchJob(id: string): Promise<JobView> {
  return (await call(`/api/jobs/${id}`)).json() as Promise<JobView>;
}

const KEEPALIVE_BYTES = 30_000;

/** A changed job: the new state, and whether it is somebody else's because ours came too late. */
export interface Saved {
  readonly job: JobView;
  readonly overtaken: boolean;
}

export async function saveJob(id: string, base: number, sheet: JobSheet): Promise<Saved> {
  const change = send('PATCH', { base, sheet });
  // A change is still sent when its page is left; browsers do so for small requests only.
  const keepalive = (change.body as string).length < KEEPALIVE_BYTES;
  const response = await call(`/api/jobs/${id}`, { ...change, keepalive });
  return { job: (await response.json()) as JobView, overtaken: response.status === 409 };
}

export async function moveJob(id: string, base: number, move: JobMove): Promise<Saved> {
  const response = await call(`/api/jobs/${id}/head`, send('POST', { base, move }));
  return { job: (await response.json()) as JobView, overtaken: response.status === 409 };
}

export async function deleteJob(id: string): Promise<void> {
  await call(`/api/jobs/${id}`, { method: 'DELETE' });
}

export async function restoreJob(id: string): Promise<void> {
  await call(`/api/jobs/${id}/restore`, { method: 'POST' });
}

export async function duplicateJob(id: string): Promise<string> {
  const response = await call(`/api/jobs/${id}/duplicate`, { method: 'POST' });
  return ((await response.json()) as { id: string }).id;
}

export async function fetchVersions(id: string, before?: number): Promise<VersionCard[]> {
  const query = before === undefined ? '' : `?before=${before}`;
  return (await call(`/api/jobs/${id}/versions${query}`)).json() as Promise<VersionCard[]>;
}

export async function fetchVersion(id: string, number: number): Promise<JobSheet> {
  return (await call(`/api/jobs/${id}/versions/${number}`)).json() as Promise<JobSheet>;
}

export async function nameVersion(id: string, number: number, name: string | null): Promise<void> {
  await call(`/api/jobs/${id}/versions/${number}`, send('PATCH', { name }));
}

export async function fetchStock(): Promise<StockView> {
  return (await call('/api/stock')).json() as Promise<StockView>;
}

export async function saveStock(
  base: number,
  stock: Stock,
): Promise<{ view: StockView; overtaken: boolean }> {
  const response = await call('/api/stock', send('PUT', { base, stock }));
  return { view: (await response.json()) as StockView, overtaken: response.status === 409 };
}

export function uploadArtwork(file: File): Promise<string> {
  return upload('/api/uploads', file);
}

/** Has a picture read as a texture; tells the task. */
export function uploadTexture(file: File): Promise<string> {
  return upload('/api/textures', file);
}

/** Has a revised artwork compared with that of a version of a job; tells the task. */
export function uploadRevision(jobId: string, version: number, file: File): Promise<string> {
  return upload(`/api/jobs/${jobId}/artwork`, file, { 'x-job-version': String(version) });
}

/** Has the artwork of a version of a job cleaned; tells the task. */
export async function startCleaning(jobId: string, version: number, clean: CleaningWish): Promise<string> {
  const response = await call(`/api/jobs/${jobId}/clean`, send('POST', { version, clean }));
  return ((await response.json()) as { taskId: string }).taskId;
}

/** Where a file of a finished task is. */
export function taskFile(taskId: string, name: string): string {
  return `/api/tasks/${taskId}/files/${encodeURIComponent(name)}`;
}

async function upload(
  path: string,
  file: File,
  more: Readonly<Record<string, string>> = {},
): Promise<string> {
  if (file.size > MAX_UPLOAD_BYTES) {
    throw new ApiError(413, {
      code: 'upload-size',
      message: `${file.name} is larger than ${MAX_UPLOAD_BYTES / 1e6} MB.`,
      remedy: 'Save it with compression, or at 300 dpi at print size.',
    });
  }
  const response = await call(path, {
    method: 'POST',
    headers: {
      'content-type': 'application/octet-stream',
      'x-file-name': encodeURIComponent(file.name),
      'x-file-size': String(file.size),
      ...more,
    },
    body: file,
  });
  return ((await response.json()) as { taskId: string }).taskId;
}

export function pagePicture(sha256: string, page: number): string {
  return `/api/artwork/${sha256}/pages/${page}`;
}

/** Has a page of a PDF that is artwork already become a job of its own. */
export async function takePage(sha256: string, page: number): Promise<string> {
  const response = await call(pagePicture(sha256, page), { method: 'POST' });
  return ((await response.json()) as { taskId: string }).taskId;
}

/** @param only a plate whose film is made again; the whole set when left out. */
export async function startFilms(jobId: string, version: number, only?: string): Promise<string> {
  const response = await call(`/api/jobs/${jobId}/films`, send('POST', { version, only }));
  return ((await response.json()) as { taskId: string }).taskId;
}

/** Sends finished films to a film printer of the stock. */
export async function startPrint(jobId: string, filmsTaskId: string, printer: string): Promise<string> {
  const response = await call(`/api/jobs/${jobId}/print`, send('POST', { filmsTaskId, printer }));
  return ((await response.json()) as { taskId: string }).taskId;
}

export async function startApproval(jobId: string): Promise<string> {
  const response = await call(`/api/jobs/${jobId}/approval`, { method: 'POST' });
  return ((await response.json()) as { taskId: string }).taskId;
}

export async function fetchFilms(jobId: string): Promise<TaskView | null> {
  return (await call(`/api/jobs/${jobId}/films`)).json() as Promise<TaskView | null>;
}

/** Film sets that are done, the newest first. */
export async function fetchFilmSets(jobId: string): Promise<TaskView[]> {
  return (await call(`/api/jobs/${jobId}/films?all`)).json() as Promise<TaskView[]>;
}

export async function cancelTask(id: string): Promise<void> {
  await call(`/api/tasks/${id}/cancel`, { method: 'POST' });
}

export function toReport(thrown: unknown): ErrorReport {
  if (thrown instanceof ApiError) return thrown.report;
  if (thrown instanceof KerameusError) return thrown.toReport();
  return { code: 'internal', message: thrown instanceof Error ? thrown.message : String(thrown) };
}
