/** The result of work in steps, all of it done at once. */
export function finished<T>(steps: Generator<unknown, T>): T {
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
}
