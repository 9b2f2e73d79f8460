import { pino } from 'pino';
import { type ErrorReport, toErrorReport } from '@/core/units';

/** What the programs say of themselves: one line of JSON each, with the address of the database and what people sent left out. */
export const log = pino({
  level: process.env.KERAMEUS_LOG_LEVEL ?? 'info',
  base: { pid: process.pid },
  redact: {
    paths: ['err.params', 'err.parameters', 'err.query', 'err.cause.params', 'connectionString', 'password'],
    censor: 'left out',
  },
  serializers: {
    err: (thrown: unknown) => {
      if (!(thrown instanceof Error)) return { message: String(thrown) };
      const cause = thrown.cause instanceof Error ? thrown.cause : null;
      return {
        name: thrown.name,
        message: withoutParameters(thrown.message),
        code: (thrown as NodeJS.ErrnoException).code,
        stack: thrown.stack && withoutParameters(thrown.stack),
        ...(cause ? { cause: { message: cause.message, code: (cause as NodeJS.ErrnoException).code } } : {}),
      };
    },
  },
});

/** Statements of the database come with all that they were given: whole sheets, whole files. */
function withoutParameters(text: string): string {
  return text.replace(/\nparams:[\s\S]*?(?=\n {4}at |$)/g, '\nparams: left out');
}

/** An error as users are told of it: what happened and what to do; the inside of an unforeseen one stays in the log. */
export function tellUser(thrown: unknown): ErrorReport {
  if (isDatabaseFull(thrown)) {
    return {
      code: 'database-full',
      message: 'The disk that the database lies on is full.',
      remedy: 'Make room on it and try again; what was stored before is safe.',
    };
  }
  const report = toErrorReport(thrown);
  if (report.code !== 'internal') return report;
  return {
    code: 'internal',
    message: 'Something went wrong that should not.',
    remedy: 'Try again; the log says more.',
  };
}

/** Classes of PostgreSQL's errors that mean that it has no room: 53100 disk full, 53200 out of memory. */
function isDatabaseFull(thrown: unknown): boolean {
  for (let error = thrown; error instanceof Error; error = error.cause) {
    if (['53100', '53200'].includes(String((error as NodeJS.ErrnoException).code))) return true;
  }
  return false;
}
