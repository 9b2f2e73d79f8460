import { type FilmPlan, type StripPlanes, storeBytes } from '@/core/pipeline';

/** Puts the strips' parts of the kept planes together: rows that strips share are summed in strip order. */
export class PlaneCollector {
  private readonly planes: Uint8Array[];
  private readonly width: number;
  private open: { row: number; sums: readonly Float32Array[] } | null = null;

  constructor(plan: FilmPlan) {
    this.width = plan.planeWidth;
    this.planes = plan.plates.map(() => new Uint8Array(plan.planeWidth * plan.planeHeight));
  }

  /** Strips must come in order. */
  add(strip: StripPlanes): void {
    strip.bytes.forEach((bytes, k) => this.planes[k]!.set(bytes, strip.firstRow * this.width));
    for (const part of strip.parts) {
      if (this.open && this.open.row === part.row) {
        this.open.sums.forEach((sum, k) => {
          const more = part.sums[k]!;
          for (let x = 0; x < sum.length; x++) sum[x]! += more[x]!;
        });
      } else {
        this.flush();
        this.open = part;
      }
    }
  }

  private flush(): void {
    const { open } = this;
    open?.sums.forEach((sum, k) => storeBytes(sum, this.planes[k]!, open.row * this.width));
    this.open = null;
  }

  finish(): readonly Uint8Array[] {
    this.flush();
    return this.planes;
  }
}
