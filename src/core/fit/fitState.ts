import type { Plate } from '../sheet';

/**
 * What fit works on, in three parts: each stage says which of them it looks at and which it makes anew. All planes have the size of the labels that
 * they were made from, at the grid's resolution. What is in a state is never written to again.
 */
export interface FitState {
  readonly inks: FitInks;
  readonly highlights: readonly FitHighlight[];
  /** Null where the job has no base. */
  readonly base: FitBase | null;
}

export type FitPart = keyof FitState;

/** The plates but the base, and what follows from them. */
export interface FitInks {
  /** In print order, highlights as they are before their choke; none where only the base is asked for. */
  readonly drafts: readonly DraftInk[];
  /** 255 = bare garment: no plate prints here. */
  readonly bare: Uint8Array;
  /** 255 = an ink that wants a base prints here. */
  readonly based: Uint8Array;
  /** 255 = a dark ink without base prints here, and none that wants one. */
  readonly dark: Uint8Array;
}

export interface DraftInk {
  readonly id: string;
  readonly role: Plate['role'];
  /** How much base it wants, 0..65535. */
  readonly baseTone: number;
  readonly shape: Uint8Array;
  /** 0..65535 inside of the shape; null: solid. */
  readonly tone: Uint16Array | null;
  /** Tone that ink added at its edges gets: the strongest tint on this plate. */
  readonly edgeTone: number;
}

export interface FitHighlight {
  readonly id: string;
  readonly shape: Uint8Array;
  /** 255 inside of what it is drawn back from the edge of. */
  readonly outline: Uint8Array;
}

/** Where the base prints, and how much of it, 0..65535. */
export interface FitBase {
  readonly shape: Uint8Array;
  readonly strength: Uint16Array;
}
