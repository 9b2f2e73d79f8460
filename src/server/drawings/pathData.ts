import { VERB } from '@/core/drawing';

/** Grows while outlines are added; all of a drawing's stand in it. */
export class PathRoom {
  private verbs = new Uint8Array(1 << 12);
  private coords = new Float32Array(1 << 14);
  verbCount = 0;
  coordCount = 0;

  verb(verb: number): void {
    if (this.verbCount === this.verbs.length) {
      const larger = new Uint8Array(this.verbs.length * 2);
      larger.set(this.verbs);
      this.verbs = larger;
    }
    this.verbs[this.verbCount++] = verb;
  }

  coord(value: number): void {
    if (this.coordCount === this.coords.length) {
      const larger = new Float32Array(this.coords.length * 2);
      larger.set(this.coords);
      this.coords = larger;
    }
    this.coords[this.coordCount++] = value;
  }

  /** What stands in it now; good until more is added. */
  view(): { readonly verbs: Uint8Array; readonly coords: Float32Array } {
    return {
      verbs: this.verbs.subarray(0, this.verbCount),
      coords: this.coords.subarray(0, this.coordCount),
    };
  }

  finish(): { readonly verbs: Uint8Array; readonly coords: Float32Array } {
    return { verbs: this.verbs.slice(0, this.verbCount), coords: this.coords.slice(0, this.coordCount) };
  }
}

const POINTS: Readonly<Record<string, readonly [verb: number, numbers: number]>> = {
  M: [VERB.move, 2],
  L: [VERB.line, 2],
  Q: [VERB.quad, 4],
  C: [VERB.cubic, 6],
  Z: [VERB.close, 0],
};

/**
 * Adds an outline in the plain form that the simplifier writes: M, L, Q, C and Z, absolute, each with its letter, everything apart by single spaces.
 * Throws an Error for anything else.
 */
export function addPathData(data: string, room: PathRoom): void {
  let at = 0;
  const { length } = data;
  while (length > at) {
    const known = POINTS[data[at]!];
    if (!known) throw new Error(`unknown piece of an outline: ${data.slice(at, at + 12)}`);
    const [verb, numbers] = known;
    room.verb(verb);
    at += 2;
    for (let k = 0; k < numbers; k++) {
      let end = data.indexOf(' ', at);
      if (end < 0) end = length;
      const value = Number(data.slice(at, end));
      if (!Number.isFinite(value)) throw new Error('a number of an outline is none');
      room.coord(value);
      at = end + 1;
    }
  }
}
