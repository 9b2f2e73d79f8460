/** What went wrong, in a form that survives a thread boundary or an HTTP response. */
export interface ErrorReport {
  readonly code: string;
  readonly message: string;
  /** The parameter or file part that was refused. */
  readonly parameter?: string;
  /** What the user can do about it. */
  readonly remedy?: string;
  /** Where an unforeseen error was thrown: for the log, never for users. */
  readonly stack?: string;
}

/**
 * The one error type of the project: a stable code, a sentence saying what is wrong,
 * and a sentence saying what to do.
 */
export class KerameusError extends Error {
  readonly code: string;
  readonly parameter?: string;
  readonly remedy?: string;

  constructor(report: ErrorReport) {
    super(report.message);
    this.name = 'KerameusError';
    this.code = report.code;
    this.parameter = report.parameter;
    this.remedy = report.remedy;
    if (report.stack !== undefined) this.stack = report.stack;
  }

  /** The plain form, for messages between threads and over HTTP. */
  toReport(): ErrorReport {
    return {
      code: this.code,
      message: this.message,
      ...(this.parameter === undefined ? {} : { parameter: this.parameter }),
      ...(this.remedy === undefined ? {} : { remedy: this.remedy }),
    };
  }
}

/** Message and remedy in one line, as a command line prints it. */
export function describeError(report: ErrorReport): string {
  const sentence = report.message.replace(/\s+/g, ' ').trim();
  return report.remedy ? `${sentence} ${report.remedy}` : sentence;
}

/** What systems call it when there is no room for what is written: on the disk, for this user, or in this file. */
const NO_ROOM = ['ENOSPC', 'EDQUOT', 'EFBIG'];

/** Turns anything thrown into a report; unknown errors keep their message under the code `internal`. */
export function toErrorReport(thrown: unknown): ErrorReport {
  if (thrown instanceof KerameusError) return thrown.toReport();
  if (thrown instanceof Error && 'code' in thrown && NO_ROOM.includes(String(thrown.code))) {
    return {
      code: 'disk-full',
      message: 'There is no room left on the disk for what is being made.',
      remedy: 'Make room, or choose another folder, and make it again: nothing half made was kept.',
    };
  }
  const message = thrown instanceof Error ? thrown.message : String(thrown);
  const stack = thrown instanceof Error ? thrown.stack : undefined;
  return { code: 'internal', message, ...(stack === undefined ? {} : { stack }) };
}
