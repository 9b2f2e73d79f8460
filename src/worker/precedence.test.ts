import { Precedence } from './precedence';

test('turns come when nothing that goes first is running any more, failed or not', async () => {
  const precedence = new Precedence();
  await precedence.turn();
  let finish = () => {};
  let fail = (_: Error) => {};
  const works = [
    precedence.first(() => new Promise<void>((resolve) => (finish = resolve))),
    precedence.first(() => new Promise<void>((_, reject) => (fail = reject))),
  ];
  let came = false;
  const turn = precedence.turn().then(() => {
    came = true;
  });
  finish();
  await works[0];
  await new Promise((resolve) => setTimeout(resolve, 10));
  expect(came).toBe(false);
  fail(new Error('Out of film.'));
  await expect(works[1]).rejects.toThrow('Out of film.');
  await turn;
  expect(came).toBe(true);
});
