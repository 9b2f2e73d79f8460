import { type ChildProcess, execFile, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import sharp from 'sharp';
import { PlainG4Encoder, tiffHead } from '@/core/formats';
import { IppPrinter, describeStatus, printFilm } from '@/server/printing';

// The client against the simulated printer over loopback, and the simulated printer against ipptool of the CUPS project, so that the
// two cannot agree on a mistake. RFC 8010, RFC 8011.

const call = promisify(execFile);
let folder: string;
let port: number;
let device: ChildProcess;
let uri: string;

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const server = net.createServer();
    server.listen(0, '127.0.0.1', () => {
      const { port: found } = server.address() as net.AddressInfo;
      server.close(() => resolve(found));
    });
  });
}

/** A small film: a black square on clear. */
function film(dpi: number): Uint8Array {
  const [width, rows] = [160, 120];
  const bits = new Uint8Array((width / 8) * rows);
  for (let y = 20; y < 60; y++) bits.fill(255, y * 20 + 5, y * 20 + 15);
  const encoder = new PlainG4Encoder(width);
  const stream = Buffer.concat([encoder.encode(bits, rows), encoder.finish()]);
  return Buffer.concat([
    tiffHead({ width, height: rows, dpi, length: stream.length, description: 'a square' }),
    stream,
  ]);
}

const fail = (how: string) => fetch(`http://127.0.0.1:${port}/fail`, { method: 'POST', body: how });

beforeAll(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-printing-'));
  port = await freePort();
  uri = `ipp://127.0.0.1:${port}/ipp/print`;
  device = spawn(
    process.execPath,
    ['devices/filmPrinter.mjs', '--port', String(port), '--out', folder, '--seconds', '0.3', '--dpi', '720'],
    { stdio: ['ignore', 'pipe', 'inherit'] },
  );
  await new Promise<void>((resolve, reject) => {
    device.stdout!.once('data', () => resolve());
    device.once('exit', () => reject(new Error('the simulated printer ended')));
  });
}, 60_000);
afterAll(() => {
  device.kill();
  rmSync(folder, { recursive: true, force: true });
});
afterEach(() => fail(''));

const job = (name: string, dpi = 720) => ({ name, format: 'image/tiff', dpi, data: film(dpi) });
const never = new AbortController().signal;

describe('the simulated printer, asked by ipptool', () => {
  const ask = async (test: string, ...options: string[]) => {
    const result = await call('ipptool', ['-V', '1.1', '-tv', ...options, uri, test]).catch(
      (failed: unknown) => failed as { stdout: string },
    );
    return result.stdout;
  };

  it('tells what it is', async () => {
    const text = await ask('get-printer-attributes.test');
    expect(text).toContain('printer-resolution-supported (resolution) = 720dpi');
    expect(text).toContain('status-code = successful-ok');
    expect(text).toContain('printer-state (enum) = idle');
    expect(text).not.toMatch(/Bad |RFC 8011/);
  });

  it('takes a film and prints it', async () => {
    const file = path.join(folder, 'film.tif');
    writeFileSync(file, film(720));
    const text = await ask('print-job.test', '-f', file);
    expect(text).toContain('[PASS]');
    expect(text).toMatch(/job-id \(integer\) = \d+/);
  });
});

describe("the client's requests, read off the wire", () => {
  it('are those of RFC 8010: version, operation, charset and language first', async () => {
    // What goes over the wire, caught by a plain server.
    const caught: Buffer[] = [];
    const server = net.createServer((socket) => {
      socket.on('data', (part: Buffer) => {
        caught.push(part);
        socket.end('HTTP/1.1 503 Busy\r\ncontent-length: 0\r\n\r\n');
      });
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const { port: at } = server.address() as net.AddressInfo;
    await expect(new IppPrinter(`ipp://127.0.0.1:${at}/ipp/print`).facts()).rejects.toThrow('status 503');
    server.close();
    const wire = Buffer.concat(caught);
    expect(wire.toString('latin1')).toContain('content-type: application/ipp');
    const body = wire.subarray(wire.indexOf('\r\n\r\n') + 4);
    // version 1.1, Get-Printer-Attributes 0x000b, request-id 1, operation attributes, charset (0x47), natural language (0x48).
    expect([...body.subarray(0, 10)]).toEqual([1, 1, 0, 0x0b, 0, 0, 0, 1, 1, 0x47]);
    const name = 'attributes-charset';
    expect(body.subarray(12, 12 + name.length).toString()).toBe(name);
    expect(body.at(-1)).toBe(3);
  });
});

describe('the client', () => {
  it('learns what the printer can', async () => {
    const facts = await new IppPrinter(uri).facts();
    expect(facts.resolutions).toEqual([720]);
    expect(facts.formats).toContain('image/tiff');
    expect(facts.accepting).toBe(true);
  });

  it('prints a film, which lies there as it was sent', async () => {
    const told: string[] = [];
    await printFilm(new IppPrinter(uri), job('02-gold.tif'), never, (words) => told.push(words));
    const printed = readdirSync(folder).find((name) => name.endsWith('-02-gold.tif.png'))!;
    const { data, info } = await sharp(readFileSync(path.join(folder, printed)))
      .toColourspace('b-w')
      .raw()
      .toBuffer({ resolveWithObject: true });
    const at = (x: number, y: number) =>
      data[Math.round((y * info.height) / 120) * info.width + Math.round((x * info.width) / 160)]!;
    expect(at(80, 40)).toBeLessThan(20);
    expect(at(80, 90)).toBeGreaterThan(235);
    expect(told.every((words) => words === 'waits' || words === 'prints') && told.length > 0).toBe(true);
  });

  it('waits while there is no film, says so, and goes on when there is', async () => {
    await fail('out-of-film');
    const told = new Set<string>();
    const printing = printFilm(new IppPrinter(uri), job('waits.tif'), never, (words) => told.add(words));
    while (!told.has('stopped, out of film')) await new Promise((resolve) => setTimeout(resolve, 50));
    await fail('');
    await printing;
  }, 20_000);

  it('cancels the job at the printer as well', async () => {
    await fail('out-of-film');
    const stop = new AbortController();
    const printer = new IppPrinter(uri);
    let said = () => {};
    const begun = new Promise<void>((resolve) => (said = resolve));
    const printing = printFilm(printer, job('cancelled.tif'), stop.signal, () => said());
    await begun;
    stop.abort();
    await expect(printing).rejects.toThrow();
    const { stdout } = await call('ipptool', ['-V', '1.1', '-tv', uri, 'get-completed-jobs.test']).catch(
      (failed: unknown) => failed as { stdout: string },
    );
    expect(stdout).toContain('canceled');
  }, 20_000);

  it('hears why a film is given up', async () => {
    await expect(
      printFilm(new IppPrinter(uri), job('coarse.tif', 600), never, () => undefined),
    ).rejects.toThrow('the film has 600 dpi, the printer 720');
  });

  it('says when the printer goes away in the middle of a job, or was never there', async () => {
    await fail('out-of-film');
    const printing = printFilm(new IppPrinter(uri), job('away.tif'), never, () => void fail('offline'));
    await expect(printing).rejects.toThrow(/cannot be reached/);
    await expect(new IppPrinter(`ipp://127.0.0.1:${await freePort()}/`).facts()).rejects.toThrow(
      /cannot be reached/,
    );
    expect(() => new IppPrinter('printer.local')).toThrow('is no address of a printer');
  }, 20_000);

  it('puts reasons into words of the shop', () => {
    const status = {
      state: 'processing-stopped',
      reasons: ['media-empty-error', 'spool-area-full'],
      message: null,
    } as const;
    expect(describeStatus(status)).toBe('stopped, out of film, spool-area-full');
  });
});

describe('the command line', () => {
  const run = (...args: string[]) => call('npx', ['tsx', 'src/cli/main.ts', 'send', ...args]);

  it('sends a film and waits until the printer has it', async () => {
    const file = path.join(folder, 'by-hand.tif');
    writeFileSync(file, film(720));
    const { stdout } = await run(file, '--printer', uri);
    expect(stdout).toMatch(/^The film lies in /);
    const printed = readdirSync(folder).find((name) => name.includes('by-hand') && name.endsWith('.png'));
    expect(printed).toBeDefined();
  });

  it('refuses what the printer would scale, what is no film, and a printer that is not there', async () => {
    const coarse = path.join(folder, 'coarse-by-hand.tif');
    writeFileSync(coarse, film(600));
    await expect(run(coarse, '--printer', uri)).rejects.toThrow(/600 dpi/);
    await expect(run('package.json', '--printer', uri)).rejects.toThrow(/no film/);
    const nowhere = `ipp://127.0.0.1:${await freePort()}/ipp/print`;
    await expect(run(coarse, '--printer', nowhere)).rejects.toThrow(/cannot be reached|does not answer/);
  });
});
