import { Turns } from './turns';

/** Long enough for everything that waits for nothing to be done. */
const settled = () => new Promise((resolve) => setTimeout(resolve, 20));

test('a newer ticket makes older ones void, and an older one that comes late takes nothing back', () => {
  const turns = new Turns();
  turns.supersede(5);
  expect([4, 5, 6].map((ticket) => turns.isOver(ticket))).toEqual([true, false, false]);
  turns.supersede(3);
  expect([4, 5].map((ticket) => turns.isOver(ticket))).toEqual([true, false]);
});

test('long work rests while it is held, however often that is asked for, and goes on when it is let go', async () => {
  const turns = new Turns();
  const done: string[] = [];
  turns.hold();
  turns.hold();
  const resting = turns.rest().then(() => done.push('rested'));
  await settled();
  expect(done).toEqual([]);
  turns.resume();
  await resting;
  await turns.rest();
  expect(done).toEqual(['rested']);
});

test('surveys wait for work that the page waits for, also where that fails, and for the last of several', async () => {
  const turns = new Turns();
  const done: string[] = [];
  let give = (_: number) => {};
  let fail = (_: Error) => {};
  const one = turns.goFirst(new Promise<number>((resolve) => (give = resolve)));
  const two = turns.goFirst(new Promise<number>((_, reject) => (fail = reject)));
  const survey = turns.restBehindAwaited().then(() => done.push('survey'));
  await turns.rest();
  give(1);
  expect(await one).toBe(1);
  await settled();
  expect(done).toEqual([]);
  fail(new Error('no inks'));
  await expect(two).rejects.toThrow('no inks');
  await survey;
  expect(done).toEqual(['survey']);
  await turns.restBehindAwaited();
});
