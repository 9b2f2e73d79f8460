import { readFile } from 'node:fs/promises';
import { type TonePair, parseReadings } from '@/core/tone';
import { KerameusError } from '@/core/units';

/** The options of the commands as they were written. */
export type Options = Readonly<Record<string, string | undefined>>;

export function bad(parameter: string, message: string, remedy: string): KerameusError {
  return new KerameusError({ code: 'argument', parameter, message, remedy });
}

export function required(options: Options, name: string): string {
  const value = options[name];
  if (value === undefined || value === '') throw bad(name, `--${name} is missing.`, 'See --help.');
  return value;
}

export function readNumber(options: Options, name: string, low: number, high: number): number | null {
  const text = options[name];
  if (text === undefined) return null;
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value) || value < low || value > high) {
    throw bad(name, `--${name} "${text}" is not a number from ${low} to ${high}.`, 'Correct it.');
  }
  return value;
}

/** A share written as `15%` or `15`, both fifteen hundredths. */
export function readPercent(options: Options, name: string, low: number, high: number): number | null {
  const text = options[name]?.replace(/%$/, '');
  const value = readNumber({ [name]: text }, name, low, high);
  return value === null ? null : value / 100;
}

export function readChoice<T extends string>(options: Options, name: string, known: readonly T[]): T | null {
  const text = options[name];
  if (text === undefined) return null;
  const found = known.find((each) => each === text);
  if (!found) throw bad(name, `--${name} ${text} is not known.`, `Use ${known.join(', ')}.`);
  return found;
}

export function readList<T extends string>(options: Options, name: string, known: readonly T[]): T[] | null {
  const text = options[name];
  if (text === undefined) return null;
  return text.split(',').map((part) => readChoice({ [name]: part.trim() }, name, known)!);
}

export async function readReadings(options: Options, name: string): Promise<TonePair[] | null> {
  const file = options[name];
  if (file === undefined) return null;
  const text = await readFile(file, 'utf8').catch(() => {
    throw bad(name, `The file of readings for --${name} cannot be read.`, 'Check its name.');
  });
  return parseReadings(text);
}
