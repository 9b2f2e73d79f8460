import { PoolMember, type Question } from './poolMember';
import { SURVEYOR } from './requests';

const IDLE_MS = 4000;

/** A worker for what takes longer. It starts when it is first asked, and ends with its memory when nothing was asked of it for a while. */
export class Helper {
  private member: PoolMember | null = null;
  /** Questions that are not answered yet. */
  private asked = 0;
  private ends: ReturnType<typeof setTimeout> | undefined;
  private isHeld = false;

  async ask<T>(question: Question<T>): Promise<T> {
    clearTimeout(this.ends);
    if (!this.member) {
      this.member = new PoolMember(SURVEYOR);
      if (this.isHeld) this.member.tell((api) => api.hold());
    }
    this.asked++;
    const { member } = this;
    try {
      return await member.ask(question);
    } catch (thrown) {
      // One that broke down answers nothing any more: the next question starts another.
      if (thrown instanceof Error && /worker stopped/.test(thrown.message) && this.member === member)
        this.end();
      throw thrown;
    } finally {
      this.asked = Math.max(0, this.asked - 1);
      if (this.asked === 0) this.ends = setTimeout(() => this.end(), IDLE_MS);
    }
  }

  /** For what needs no answer, and nothing where the worker does not run. */
  tell(message: Question<void>): void {
    this.member?.tell(message);
  }

  /** Lets its surveys wait, also one that is asked for meanwhile, until `resume`. */
  hold(): void {
    this.isHeld = true;
    this.tell((api) => api.hold());
  }

  resume(): void {
    this.isHeld = false;
    this.tell((api) => api.resume());
  }

  /** As it was before it was first asked; what is not answered never will be. */
  close(): void {
    this.end();
    this.asked = 0;
    this.isHeld = false;
  }

  private end(): void {
    clearTimeout(this.ends);
    this.member?.end();
    this.member = null;
  }
}
