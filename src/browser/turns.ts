/** Lets messages that wait be heard: a newer request makes the running one void. */
export function breathe(): Promise<void> {
  return new Promise((resolve) => {
    const channel = new MessageChannel();
    channel.port1.onmessage = () => {
      channel.port1.close();
      resolve();
    };
    channel.port2.postMessage(null);
  });
}

/** Who goes first in a worker: of drawings and surveys the newest, and before long work whatever the page waits for. */
export class Turns {
  private latest = 0;
  private held: { readonly over: Promise<void>; readonly end: () => void } | null = null;
  /** Work that the page waits for; surveys let it go first. */
  private awaited: Promise<unknown> | null = null;

  /** Makes everything before this ticket void. */
  supersede(ticket: number): void {
    this.latest = Math.max(this.latest, ticket);
  }

  /** Whether a newer request than this ticket's came. */
  isOver(ticket: number): boolean {
    return ticket < this.latest;
  }

  /** Long work waits until `resume`. */
  hold(): void {
    if (this.held) return;
    let end = () => {};
    const over = new Promise<void>((resolve) => (end = resolve));
    this.held = { over, end };
  }

  resume(): void {
    this.held?.end();
    this.held = null;
  }

  /** Long work rests here between its steps: messages are heard, and it waits while it is held. */
  async rest(): Promise<void> {
    await breathe();
    await this.held?.over;
  }

  /** As `rest`, and waits for what the page waits for. */
  async restBehindAwaited(): Promise<void> {
    await this.rest();
    await this.awaited;
  }

  /** Does work that surveys let go first. */
  async goFirst<T>(work: Promise<T>): Promise<T> {
    const over = work.catch(() => undefined);
    this.awaited = over;
    try {
      return await work;
    } finally {
      if (this.awaited === over) this.awaited = null;
    }
  }
}
