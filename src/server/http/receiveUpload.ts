import { open, rm } from 'node:fs/promises';
import path from 'node:path';
import { KerameusError } from '@/core/units';
import { MAX_UPLOAD_BYTES } from '@/protocol/tasks';
import { assertScratchRoom, scratchFolder } from '../files/scratch';

/** Uploads that may come in at once, over all pages. */
const MOST_AT_ONCE = 6;
/** The longest silence of a sender, and the longest upload. */
const SILENCE_MS = 20_000;
const WHOLE_MS = 15 * 60_000;

let coming = 0;

/**
 * Receives the body of a request into a file and has it worked on; the file is gone afterwards. Size, time and number are bounded while it is
 * read. Throws KerameusError `upload-size`, `artwork-empty`, `upload-cut-off`, `too-slow`, `busy` or `disk-full`.
 */
export async function receiveUpload<T>(
  request: Request,
  work: (file: string, size: number) => Promise<T>,
): Promise<T> {
  const declared = Number(request.headers.get('x-file-size') ?? NaN);
  const length = Number(request.headers.get('content-length') ?? NaN);
  if (declared > MAX_UPLOAD_BYTES || length > MAX_UPLOAD_BYTES) throw tooLarge();
  if (!request.body || declared === 0) throw empty();
  if (coming >= MOST_AT_ONCE) throw busy();
  coming++;
  try {
    const folder = await scratchFolder('upload');
    try {
      if (length > 0) await assertScratchRoom(folder, length);
      const file = path.join(folder, 'upload');
      const size = await receive(request.body, file);
      if (size === 0) throw empty();
      if (Number.isFinite(declared) && size !== declared) throw cutOff(size, declared);
      return await work(file, size);
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  } finally {
    coming--;
  }
}

async function receive(body: ReadableStream<Uint8Array>, file: string): Promise<number> {
  const reader = body.getReader();
  const handle = await open(file, 'w');
  const end = Date.now() + WHOLE_MS;
  let size = 0;
  try {
    for (;;) {
      const { done, value } = await within(reader.read(), Math.min(SILENCE_MS, end - Date.now()));
      if (done) return size;
      size += value.length;
      if (size > MAX_UPLOAD_BYTES) throw tooLarge();
      await handle.write(value);
    }
  } catch (thrown) {
    void reader.cancel().catch(() => undefined);
    if (thrown instanceof KerameusError || (thrown as NodeJS.ErrnoException).code === 'ENOSPC') throw thrown;
    // The sender went away.
    throw cutOff(size, null);
  } finally {
    await handle.close();
  }
}

async function within<T>(work: Promise<T>, ms: number): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  try {
    return await Promise.race([
      work,
      new Promise<never>((_, reject) => {
        timer = setTimeout(() => reject(tooSlow()), Math.max(0, ms));
      }),
    ]);
  } finally {
    clearTimeout(timer);
  }
}

function refused(code: string, message: string, remedy: string): KerameusError {
  return new KerameusError({ code, parameter: 'artwork', message, remedy });
}

function tooLarge(): KerameusError {
  return refused(
    'upload-size',
    `The file is larger than ${MAX_UPLOAD_BYTES / 1e6} MB.`,
    'Save it with compression, or at 300 dpi at print size.',
  );
}

function empty(): KerameusError {
  return refused('artwork-empty', 'The artwork file is empty.', 'Export or copy it again.');
}

function cutOff(got: number, declared: number | null): KerameusError {
  const of = declared === null ? '' : ` of ${declared}`;
  return refused('upload-cut-off', `Only ${got}${of} bytes arrived.`, 'Drop the file again.');
}

function tooSlow(): KerameusError {
  return refused(
    'too-slow',
    `Nothing arrived for ${SILENCE_MS / 1000} seconds, or the upload took longer than ${WHOLE_MS / 60_000} minutes.`,
    'Drop the file again.',
  );
}

function busy(): KerameusError {
  return refused(
    'busy',
    `${MOST_AT_ONCE} other files are coming in just now.`,
    'Wait until they are there, and drop the file again.',
  );
}
