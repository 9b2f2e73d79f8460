/** The fast way from artwork to film against its reference, on random jobs. */
import { runBundled } from '../bundled';

interface Outcome {
  readonly seed: number;
  readonly ink: number;
  readonly wrong: readonly string[];
}

test('strips of random jobs have the bits that every stage at the resolution of the film, by the plain kernels, gives', async () => {
  // Some jobs are always the same, others new each time: where they differ, the seed of one makes that one again.
  const fresh = Math.floor(Math.random() * 2 ** 31);
  for (const [seed, count] of [
    [20260314, 10],
    [fresh, 6],
  ] as const) {
    const printed = await runBundled('tests/reference/randomStrips.ts', [String(seed), String(count)]);
    const outcomes = printed
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as Outcome);
    expect(outcomes).toHaveLength(count);
    expect(outcomes.filter(({ wrong }) => wrong.length > 0)).toEqual([]);
    expect(outcomes.reduce((sum, { ink }) => sum + ink, 0)).toBeGreaterThan(10_000);
  }
}, 400_000);
