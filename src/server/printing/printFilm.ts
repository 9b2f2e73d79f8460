import { setTimeout as wait } from 'node:timers/promises';
import { KerameusError } from '@/core/units';
import type { IppPrinter, PrintStatus } from './ippClient';

const ASK_EVERY_MS = 400;

/** What printers report, in the words of the shop. */
const REASONS: Readonly<Record<string, string>> = {
  'media-empty': 'out of film',
  'media-needed': 'out of film',
  'media-jam': 'a film is stuck',
  'marker-supply-empty': 'out of ink',
  'marker-supply-low': 'ink is low',
  'printer-stopped': 'stopped',
  paused: 'paused',
  'door-open': 'a door is open',
  'cover-open': 'a cover is open',
  'connecting-to-device': 'connecting',
  'job-printing': '',
};

/** How a printing job stands, as the page shows it. */
export function describeStatus({ state, reasons, message }: PrintStatus): string {
  const told = reasons.map((reason) => REASONS[reason.replace(/-(report|warning|error)$/, '')] ?? reason);
  const words = { pending: 'waits', processing: 'prints', 'processing-stopped': 'stopped' } as Record<
    string,
    string
  >;
  return [words[state] ?? state, ...told, message ?? ''].filter((part) => part !== '').join(', ');
}

export interface FilmToPrint {
  readonly name: string;
  readonly format: string;
  readonly dpi: number;
  readonly data: Uint8Array;
}

/**
 * Prints one film and waits until it lies there. A printer that stops, for want of film say, is waited for; an aborted signal cancels the
 * job at the printer as well. Throws KerameusError `printer` when the printer gives the film up.
 */
export async function printFilm(
  printer: IppPrinter,
  film: FilmToPrint,
  signal: AbortSignal,
  onStatus: (words: string) => void,
): Promise<void> {
  const jobId = await printer.print(film.name, film.format, film.dpi, film.data, signal);
  try {
    for (;;) {
      const status = await printer.status(jobId);
      if (status.state === 'completed') return;
      if (status.state === 'aborted' || status.state === 'canceled') {
        throw new KerameusError({
          code: 'printer',
          parameter: 'printer',
          message: `The printer gave up ${film.name}: ${describeStatus(status)}.`,
          remedy: 'Mend what it says, and send the films again.',
        });
      }
      onStatus(describeStatus(status));
      await wait(ASK_EVERY_MS, undefined, { signal });
    }
  } catch (thrown) {
    if (signal.aborted) await printer.cancel(jobId).catch(() => undefined);
    throw thrown;
  }
}
