import { parseArgs } from 'node:util';
import { KerameusError, describeError, toErrorReport } from '@/core/units';
import { HELP } from './help';
import type { Options } from './arguments';
import type { screen } from './screen';

const OPTIONS = [
  'width',
  'garment',
  'garments',
  'contrast',
  'base-wish',
  'fit-ends',
  'ink-limit',
  'saturation',
  'out',
  'name',
  'method',
  'inks',
  'base-white',
  'highlight',
  'background',
  'part',
  'page',
  'choke',
  'spread',
  'trap',
  'guard',
  'thicken',
  'pairs',
  'special',
  'texture',
  'texture-picture',
  'close-gaps',
  'curve',
  'dpi',
  'lpi',
  'angle',
  'sheet',
  'turned',
  'gang',
  'bleed',
  'density',
  'printer-curve',
  'edges',
  'ink',
  'shape',
  'ratio',
  'geometry',
  'solid',
  'lone-dots',
  'dot',
  'gain',
  'wedge',
  'largest',
  'marks',
  'polarity',
  'emulsion',
  'stretch',
  'formats',
  'names',
  'plate',
  'printer',
  'mesh',
  'date',
  'threads',
  'as',
  'colours',
  'specks',
  'frame',
] as const;

interface Arguments {
  readonly values: Options & { readonly help?: boolean };
  readonly positionals: string[];
}

function readArguments(args: string[]): Arguments {
  const strings = Object.fromEntries(OPTIONS.map((name) => [name, { type: 'string' as const }]));
  try {
    return parseArgs({
      args,
      allowPositionals: true,
      options: { ...strings, help: { type: 'boolean', short: 'h' } },
    }) as unknown as Arguments;
  } catch (thrown) {
    throw new KerameusError({
      code: 'argument',
      message: (thrown as Error).message.split('. ')[0]! + '.',
      remedy: 'See --help.',
    });
  }
}

/** A bundle of its own, beside this one. */
async function loadScreen(): Promise<typeof screen> {
  const bundle = (await import(new URL('screen.mjs', import.meta.url).href)) as { screen: typeof screen };
  return bundle.screen;
}

/** Each command is loaded when it is asked for: most need much that the others do not. */
async function main(args: string[]): Promise<void> {
  const { values, positionals } = readArguments(args);
  const [command, file, ...rest] = positionals;
  if (values.help || command === 'help') {
    process.stdout.write(HELP);
    return;
  }
  if (command === 'wedge' && file === undefined) {
    process.stdout.write(`The wedge is ${await (await import('./wedge')).wedge(values)}\n`);
    return;
  }
  if (command === 'screen' && file !== undefined && rest.length === 0) {
    process.stdout.write(`The film is ${await (await loadScreen())(file, values)}\n`);
    return;
  }
  if (command === 'send' && file !== undefined && rest.length === 0) {
    process.stdout.write(`The film lies in ${await (await import('./send')).send(file, values)}\n`);
    return;
  }
  if (command === 'clean' && file !== undefined && rest.length === 0) {
    process.stdout.write(`The drawing is ${await (await import('./clean')).clean(file, values)}\n`);
    return;
  }
  if (command === 'check' && file !== undefined && rest.length === 0) {
    const { findings, text } = await (await import('./check')).check(file, values);
    process.stdout.write(text);
    if (findings.some(({ severity }) => severity === 'severe')) process.exitCode = 1;
    return;
  }
  if ((command !== 'separate' && command !== 'films') || file === undefined || rest.length > 0) {
    throw new KerameusError({
      code: 'argument',
      message:
        command === undefined ? 'No command was given.' : `"${positionals.join(' ')}" is not a command.`,
      remedy:
        'Use separate ART, films JOB.json, check JOB.json, clean ART, screen PLATE, wedge or send FILM; see --help.',
    });
  }
  const { out, severe } =
    command === 'separate'
      ? await (await import('./separate')).separate(file, values)
      : await (await import('./films')).films(file, values);
  for (const { message, remedy } of severe) process.stderr.write(`severe: ${message} ${remedy}\n`);
  process.stdout.write(`Films are in ${out}\n`);
}

main(process.argv.slice(2)).catch((thrown: unknown) => {
  const report = toErrorReport(thrown);
  process.stderr.write(`kerameus: ${describeError(report)}\n`);
  if (report.code === 'internal' && process.env.KERAMEUS_DEBUG) console.error(thrown);
  process.exitCode = 2;
});
