/** Lets work that somebody waits for go before work that nobody does. */
export class Precedence {
  private readonly running = new Set<Promise<unknown>>();

  /** Runs what goes first. */
  async first<T>(work: () => Promise<T>): Promise<T> {
    const running = work();
    this.running.add(running);
    try {
      return await running;
    } finally {
      this.running.delete(running);
    }
  }

  /** Resolves when nothing that goes first is running. */
  async turn(): Promise<void> {
    while (this.running.size > 0) await Promise.allSettled(this.running);
  }
}

/** Pictures of jobs wait, between one band and the next, while films are made: both need all of the processor. */
export const filmsFirst = new Precedence();
