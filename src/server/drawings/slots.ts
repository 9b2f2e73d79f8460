/** Things that are referred to before or after they are defined. */
export class Slots<T> {
  private readonly ids = new Map<string, number>();
  private readonly values: (T | undefined)[] = [];

  index(id: string): number {
    let index = this.ids.get(id);
    if (index === undefined) {
      index = this.values.push(undefined) - 1;
      this.ids.set(id, index);
    }
    return index;
  }

  set(id: string, value: T): void {
    this.values[this.index(id)] = value;
  }

  /** @param missing what stands for one that was referred to and never defined. */
  all(missing: () => T): T[] {
    return this.values.map((value) => value ?? missing());
  }
}
