import { request as httpRequest } from 'node:http';
import { request as httpsRequest } from 'node:https';
import ipp, { type FullRequest, type FullResponse } from 'ipp';
import { KerameusError } from '@/core/units';

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

type Attributes = Readonly<Record<string, unknown>>;

function list(value: unknown): unknown[] {
  if (value === undefined || value === null) return [];
  return Array.isArray(value) ? value : [value];
}

function texts(value: unknown): string[] {
  return list(value).map(String);
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
  ): Promise<FullResponse> {
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
    const response = ipp.parse(answer) as unknown as FullResponse;
    const status = String(response.statusCode);
    if (!status.startsWith('successful')) {
      const words = (response['operation-attributes-tag'] as Attributes | undefined)?.['status-message'];
      throw refused(
        `The printer refuses: ${words ? String(words) : status.replaceAll('-', ' ')}.`,
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
          response.on('data', (part: Buffer) => parts.push(part));
          response.on('error', (error) => away(error.message));
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
    const found = (response['printer-attributes-tag'] ?? {}) as Attributes;
    // One resolution comes as three values, several as a list of such.
    const given = list(found['printer-resolution-supported']);
    const resolutions = (Array.isArray(given[0]) ? given : [given]) as unknown[][];
    return {
      name: String(found['printer-name'] ?? this.uri),
      resolutions: resolutions.filter((each) => each.length >= 2).map(([across]) => Number(across)),
      formats: texts(found['document-format-supported']),
      accepting: found['printer-is-accepting-jobs'] !== false,
      reasons: texts(found['printer-state-reasons']).filter((reason) => reason !== 'none'),
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
    const job = (response['job-attributes-tag'] ?? {}) as Attributes;
    return Number(job['job-id']);
  }

  async status(jobId: number): Promise<PrintStatus> {
    const response = await this.send('Get-Job-Attributes', { 'job-id': jobId });
    const job = (response['job-attributes-tag'] ?? {}) as Attributes;
    const message = job['job-state-message'];
    return {
      state: String(job['job-state']) as PrintState,
      reasons: texts(job['job-state-reasons']).filter((reason) => reason !== 'none'),
      message: message ? String(message) : null,
    };
  }

  async cancel(jobId: number): Promise<void> {
    await this.send('Cancel-Job', { 'job-id': jobId });
  }
}
