import type { RgbaPlane } from '@/core/artwork';
import {
  type ArtworkColours,
  type ArtworkNeed,
  type DotsJudged,
  ColourSurveyor,
  type InkOffer,
  type PlateJob,
  allInks,
  coloursKey,
  inkIdea,
  inkOffers,
  judgeArrangements,
  presentInks,
} from '@/core/pipeline';
import type { Arrangement } from '@/core/checks';
import type { Kernels } from '@/core/kernels';
import type { ThresholdTiles } from '@/core/screening';
import type { JobSheet } from '@/core/sheet';
import { shareOf } from './advice';
import type { ArtworkRequest, InkAdviceRequest, InkPart } from './requests';

/** What a worker lends to the search for inks. */
interface Host {
  readonly prepare: (sheet: JobSheet, hasOuterMap: boolean) => Promise<PlateJob>;
  readonly use: (sheet: JobSheet, need: ArtworkNeed, add: (art: RgbaPlane) => void) => Promise<unknown>;
  /** Lets others go first. */
  readonly rest: () => Promise<void>;
}

/** The result of work in steps, others going first before each; null where it did not go on. */
async function inTurns<T>(
  steps: Generator<null, T>,
  goesOn: () => Promise<boolean>,
): Promise<{ readonly value: T } | null> {
  for (;;) {
    if (!(await goesOn())) return null;
    const step = steps.next();
    if (step.done) return { value: step.value };
  }
}

/** Looks for inks of a job of tones; a newer question makes an older one void. */
export class InkAdviser {
  private readonly host: Host;
  private latest = 0;
  /** The colours of the artwork that was asked for last. */
  private colours: { readonly key: string; readonly value: ArtworkColours } | null = null;

  constructor(host: Host) {
    this.host = host;
  }

  stop(ticket: number): void {
    this.latest = Math.max(this.latest, ticket);
  }

  /**
   * @param heard told each part of the answer when it is found.
   * @returns whether all of it was found, and no newer question came meanwhile.
   */
  async advise(
    request: InkAdviceRequest,
    ticket: number,
    heard: (part: InkPart) => void | Promise<void>,
  ): Promise<boolean> {
    this.stop(ticket);
    const { sheet, stock, most, wanted } = request;
    const goesOn = async () => {
      await this.host.rest();
      return ticket === this.latest;
    };
    const colours = await this.coloursOf(request, goesOn);
    if (!colours) return false;
    // Artwork that prints nothing has no inks that are nearer than others.
    if (colours.few.length === 0) return true;
    const question = { sheet, stock, colours };
    if (wanted.includes('present')) {
      const present = await inTurns(presentInks(question), goesOn);
      if (!present) return false;
      await heard({ kind: 'present', present: present.value });
    }
    let largest: InkOffer | null = null;
    if (wanted.includes('offer')) {
      for (const offer of inkOffers(question, most)) {
        if (!(await goesOn())) return false;
        if (!offer) continue;
        if (!largest || offer.inks.length > largest.inks.length) largest = offer;
        await heard({ kind: 'offer', offer });
      }
    }
    if (wanted.includes('idea') && sheet.plates.length > 0) {
      const idea = await inTurns(inkIdea(question), goesOn);
      if (!idea) return false;
      await heard({ kind: 'idea', idea: idea.value });
    }
    if (!(await goesOn())) return false;
    if (wanted.includes('all')) await heard({ kind: 'all', all: allInks(question, largest) });
    return true;
  }

  /**
   * How each arrangement of some plates' dots prints a job's artwork.
   *
   * @param meet on how much of the print two of the plates both have dots, by `one * ids.length + other`.
   */
  async judgeDots(
    request: ArtworkRequest,
    ids: readonly string[],
    meet: readonly number[],
    { tiles, kernels }: { readonly tiles: ThresholdTiles; readonly kernels: Kernels },
  ): Promise<[Arrangement, DotsJudged][]> {
    const goesOn = async () => {
      await this.host.rest();
      return true;
    };
    const colours = await this.coloursOf(request, goesOn);
    const judged: [Arrangement, DotsJudged][] = [];
    const question = { sheet: request.sheet, ids, overlap: shareOf(ids, meet), colours: colours!.few };
    for (const each of judgeArrangements({ ...question, tiles, kernels })) {
      judged.push([each.arrangement, { off: each.off, shifted: each.shifted, grain: each.grain }]);
      await this.host.rest();
    }
    return judged;
  }

  /** Null when a newer question came meanwhile. */
  private async coloursOf(
    { sheet, hasOuterMap }: ArtworkRequest,
    goesOn: () => Promise<boolean>,
  ): Promise<ArtworkColours | null> {
    const key = coloursKey(sheet);
    if (this.colours?.key === key) return this.colours.value;
    const surveyor = new ColourSurveyor(await this.host.prepare(sheet, hasOuterMap));
    for (const { need, add } of surveyor.steps()) {
      if (!(await goesOn())) return null;
      await this.host.use(sheet, need, add);
    }
    const value = surveyor.result();
    this.colours = { key, value };
    return value;
  }
}
