/** Broken, hostile and strange files: each is taken or refused in words, within limits, and the program that reads them lives on. */
import { beforeAll, describe, expect, it, test } from '@jest/globals';
import { runBundled } from '../bundled';
import { triedFiles } from '../hostile/hostileFiles';
import type { Tried } from '../hostile/tryFiles';

let tried: Map<string, Tried>;
let memoryMb: number;

beforeAll(async () => {
  const result = JSON.parse(await runBundled('tests/hostile/tryFiles.ts', [])) as {
    tried: Tried[];
    memoryMb: number;
  };
  tried = new Map(result.tried.map((each) => [each.name, each]));
  memoryMb = result.memoryMb;
}, 1_200_000);

describe('a file', () => {
  it.each(triedFiles().map(({ name }) => name))('%s', (name) => {
    const { refused, error } = tried.get(name)!;
    if (refused) expect(error).not.toBeNull();
    if (!error) return;
    expect(error.code).not.toBe('internal');
    expect(error.message).toMatch(/^[A-Z].*\.$/);
    expect(error.remedy).toMatch(/^[A-Z].*\.$/);
    // Words of decoders and programs are not for users.
    expect(error.message).not.toMatch(
      /libpng|vips|Vips|ENOENT|undefined|NaN|Infinity|\bat \w+ \(|RuntimeError|unreachable/,
    );
  });
});

test('the program that read them has given its memory back', () => {
  expect(memoryMb).toBeLessThan(400);
});
