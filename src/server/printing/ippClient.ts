import { request as httpRequest } from 'node:http';
import { request as httpsRequest } from 'node:https';
import ipp, { type FullRequest } from 'ipp';
import { KerameusError } from '@/core/units';
import { GROUP, type IppAnswer, IppDamage, type IppValue, readIpp } from './readIpp';

/** How a printing job stands, in words of RFC 8011, 5.3.7. */
export type PrintState =
  'pending' | 'pending-held' | 'processing' | 'processing-stopped' | 'canceled' | 'aborted' | 'completed';

export interface PrintStatus {
  readonly state: PrintState;
  /** Such as media-empty; empty when there is nothing to say. */
  readonly reasons: readonly string[];
  /** What the printer says in words, if anything. */
  readonly message: string | null;
}

export interface PrinterFacts {
  readonly name: string;
  readonly resolutions: readonly number[];
  readonly formats: readonly string[];
  readonly accepting: boolean;
  readonly reasons: readonly string[];
}

/** How long a printer may take to answer one request. */
const ANSWER_MS = 20_000;
const USER = 'kerameus';

/** The largest answer that is read; real ones have some kilobytes. */
const MOST_ANSWER_BYTES = 1_000_000;
/** RFC 8011, 5.3.7, in the order of its numbers, which begin at 3. */
const STATES: readonly PrintState[] = [
  'pending',
  'pending-held',
  'processing',
  'processing-stopped',
  'canceled',
  'aborted',
  'completed',
];

type Attributes = ReadonlyMap<string, readonly IppValue[]>;

const NONE: Attributes = new Map();

function texts(values: readonly IppValue[] | undefined): string[] {
  return (values ?? []).map(String);
}

function refused(message: string, remedy: string): KerameusError {
  return new KerameusError({ code: 'printer', parameter: 'printer', message, remedy });
}

/** A printer that speaks IPP/1.1: RFC 8010 for how, RFC 8011 for what. */
export class IppPrinter {
  readonly uri: string;
  private readonly address: URL;

  /** Throws KerameusError `printer` for an address that is none of ipp or ipps. */
  constructor(uri: string) {
    this.uri = uri;
    const match = /^ipps?:/.test(uri) && URL.canParse(uri) ? new URL(uri) : null;
    if (!match) {
      throw refused(
        `"${uri}" is no address of a printer.`,
        'Write it like ipp://printer.local:631/ipp/print.',
      );
    }
    this.address = new URL(uri.replace(/^ipp/, 'http'));
    if (!this.address.port && uri.startsWith('ipp:')) this.address.port = '631';
  }

  private async send(
    operation: string,
    attributes: Record<string, unknown>,
    rest: Partial<FullRequest> = {},
    data?: Uint8Array,
    signal?: AbortSignal,
  ): Promise<IppAnswer> {
    const head = ipp.serialize({
      version: '1.1',
      operation,
      id: 1,
      'operation-attributes-tag': {
        'attributes-charset': 'utf-8',
        'attributes-natural-language': 'en-us',
        'printer-uri': this.uri,
        'requesting-user-name': USER,
        ...attributes,
      },
      ...rest,
    } as unknown as FullRequest);
    const answer = await this.post(data ? Buffer.concat([head, data]) : head, signal);
    let response: IppAnswer;
    try {
      response = readIpp(answer);
    } catch (thrown) {
      if (!(thrown instanceof IppDamage)) throw thrown;
      throw refused(
        `The printer at ${this.address.host} answers what cannot be understood: ${thrown.message}.`,
        'Check that its address in Stock is that of an IPP printer, and send the films again.',
      );
    }
    if (response.status >= 0x100) {
      const words = response.groups.get(GROUP.operation)?.get('status-message')?.[0];
      throw refused(
        `The printer refuses: ${words ? String(words) : `status ${response.status.toString(16).padStart(4, '0')}`}.`,
        'Check resolution, sheet and format against the printer, and send the films again.',
      );
    }
    return response;
  }

  private post(body: Buffer, signal?: AbortSignal): Promise<Buffer> {
    const make = this.address.protocol === 'https:' ? httpsRequest : httpRequest;
    return new Promise((resolve, reject) => {
      const away = (why: string) =>
        reject(
          refused(
            `The printer at ${this.address.host} cannot be reached: ${why}.`,
            'Check that it is switched on, its address in Stock, and send the films again.',
          ),
        );
      const request = make(
        this.address,
        {
          method: 'POST',
          headers: { 'content-type': 'application/ipp', 'content-length': body.length },
          timeout: ANSWER_MS,
          ...(signal ? { signal } : {}),
        },
        (response) => {
          const parts: Buffer[] = [];
          let bytes = 0;
          // A printer that drips its answer is not waited for longer than one that says nothing.
          const whole = setTimeout(() => request.destroy(new Error('its answer takes too long')), ANSWER_MS);
          response.on('data', (part: Buffer) => {
            bytes += part.length;
            if (bytes > MOST_ANSWER_BYTES) request.destroy(new Error('its answer is too large'));
            else parts.push(part);
          });
          response.on('error', (error) => away(error.message));
          response.on('close', () => clearTimeout(whole));
          response.on('end', () => {
            if (response.statusCode === 200) resolve(Buffer.concat(parts));
            else away(`it answers with status ${response.statusCode}`);
          });
        },
      );
      request.on('timeout', () => request.destroy(new Error('it does not answer')));
      request.on('error', (error) => (signal?.aborted ? reject(error) : away(error.message)));
      request.end(body);
    });
  }

  async facts(): Promise<PrinterFacts> {
    const response = await this.send('Get-Printer-Attributes', {});
    const found = response.groups.get(GROUP.printer) ?? NONE;
    const resolutions = (found.get('printer-resolution-supported') ?? []).flatMap((each) =>
      typeof each === 'object' ? [each.unit === 4 ? each.across * 2.54 : each.across] : [],
    );
    return {
      name: String(found.get('printer-name')?.[0] ?? this.uri),
      resolutions: resolutions.map(Math.round),
      formats: texts(found.get('document-format-supported')),
      accepting: found.get('printer-is-accepting-jobs')?.[0] !== false,
      reasons: texts(found.get('printer-state-reasons')).filter((reason) => reason !== 'none'),
    };
  }

  /** Sends one document; returns the printer's number of the job. */
  async print(
    name: string,
    format: string,
    dpi: number,
    data: Uint8Array,
    signal?: AbortSignal,
  ): Promise<number> {
    const response = await this.send(
      'Print-Job',
      { 'job-name': name, 'document-format': format, 'ipp-attribute-fidelity': false },
      {
        'job-attributes-tag': { 'printer-resolution': [[dpi, dpi, 'dpi']] },
      } as unknown as Partial<FullRequest>,
      data,
      signal,
    );
    const id = response.groups.get(GROUP.job)?.get('job-id')?.[0];
    if (typeof id === 'number') return id;
    throw refused(
      'The printer took the film and does not say as which job.',
      'Look at the printer before the film is sent again.',
    );
  }

  async status(jobId: number): Promise<PrintStatus> {
    const response = await this.send('Get-Job-Attributes', { 'job-id': jobId });
    const job = response.groups.get(GROUP.job) ?? NONE;
    const message = job.get('job-state-message')?.[0];
    const state = STATES[Number(job.get('job-state')?.[0]) - 3];
    if (!state) {
      throw refused(
        'The printer does not say how its job stands.',
        'Look at the printer before the film is sent again.',
      );
    }
    return {
      state,
      reasons: texts(job.get('job-state-reasons')).filter((reason) => reason !== 'none'),
      message: message ? String(message) : null,
    };
  }

  async cancel(jobId: number): Promise<void> {
    await this.send('Cancel-Job', { 'job-id': jobId });
  }
}
