import {
  type ArtworkColours,
  type InkOffer,
  type InkQuestion,
  MOST_SCREENS,
  allInks,
  bestOffer,
  fitsPress,
  inkIdea,
  inkOffers,
  presentInks,
  withOffer,
} from '@/core/pipeline';
import { chooseInkSet, mixInk, usualSimulatedInks } from '@/core/separation';
import {
  BASE_WHITE,
  HIGHLIGHT_WHITE,
  type Ink,
  type JobSheet,
  LIMITS,
  START_STOCK,
  fullToneLayer,
  garmentOf,
  withLayer,
} from '@/core/sheet';
import type { Closeness } from '@/core/solving';
import { finished } from '@/core/units';
import { type Options, bad, readChoice } from './arguments';
import { type InkWish, readBase } from './inks';

/** What a job's inks are chosen from. */
function question(sheet: JobSheet, colours: ArtworkColours): InkQuestion {
  return { sheet, stock: START_STOCK.inks, colours };
}

function allOffers(asked: InkQuestion, most?: number): InkOffer[] {
  let offers: InkOffer[] = [];
  for (const offer of inkOffers(asked, most)) if (offer) offers = withOffer(offers, offer);
  return offers;
}

/** A sheet without inks, that takes whites as the options ask for them. */
function withWishes(sheet: JobSheet, options: Options): JobSheet {
  const wishes = [
    [BASE_WHITE.name, options['base-white']],
    [HIGHLIGHT_WHITE.name, readChoice(options, 'highlight', ['yes', 'no'])],
  ] as const;
  const named = (wanted: boolean) =>
    wishes.flatMap(([name, text]) =>
      text !== undefined && text !== null && (text !== 'no') === wanted ? [name] : [],
    );
  const base = readBase(options['base-white'], usualSimulatedInks(garmentOf(sheet).colour).base);
  const layer = fullToneLayer(sheet)!;
  return {
    ...withLayer(sheet, { ...layer, pinned: named(true), banned: named(false) }),
    // A white of one's own is taken as the options describe it.
    plates: sheet.plates.flatMap((plate) =>
      plate.role === 'underbase' && base ? [{ ...plate, ink: { ...plate.ink, ...base } }] : [],
    ),
  };
}

/** What more whites must bring for a screen of theirs, in the mean. */
const WORTH_A_WHITE = 0.1;

/** The offer with so many inks beside its whites, or the most below that where no set of as many is the best of its size. */
function offerOf(count: number, offers: readonly InkOffer[]): InkOffer | null {
  const inksIn = ({ inks }: InkOffer) => inks.filter(({ role }) => role === 'colour').length;
  const most = Math.max(0, ...offers.map(inksIn).filter((each) => each <= count));
  const [first, ...others] = offers.filter((offer) => inksIn(offer) === most);
  if (!first) return null;
  return others.find(({ mean }) => mean < first.mean - WORTH_A_WHITE) ?? first;
}

/** A job of tones with the inks of stock that come nearest: as many as are asked for, or as many as are worth a screen. Throws KerameusError where there are none. */
export function withBestInks(
  sheet: JobSheet,
  wish: Exclude<InkWish, unknown[] | 'process'>,
  options: Options,
  colours: ArtworkColours,
): JobSheet {
  if (colours.few.length === 0) return sheet;
  const asked = withWishes(sheet, options);
  const most = Math.min(LIMITS.maxPlates, wish === 'auto' ? MOST_SCREENS : wish + 2);
  const offers = allOffers(question(asked, colours), most);
  const chosen = wish === 'auto' ? bestOffer(asked, offers) : offerOf(wish, offers);
  if (!chosen) {
    throw bad('inks', `Stock has no set of --inks ${wish} for this garment.`, 'Ask for fewer, or name inks.');
  }
  const next = chooseInkSet(sheet, chosen.inks);
  const isStocked = ({ name }: Ink) =>
    [BASE_WHITE, HIGHLIGHT_WHITE, ...START_STOCK.inks].some((each) => each.name === name);
  const names = next.plates.map(({ ink }) =>
    isStocked(ink) ? ink.name : `${ink.name} (${ink.colour}, not in stock)`,
  );
  process.stderr.write(`kerameus: Inks chosen: ${names.join(', ')}.\n`);
  if (!fitsPress(next, chosen)) {
    process.stderr.write(`kerameus: They need more heads or flashes than ${next.press.name} has.\n`);
  }
  return next;
}

const rounded = ({ mean, p95, wander, register }: Closeness) => ({
  mean: Math.round(mean * 1000) / 1000,
  p95: Math.round(p95 * 1000) / 1000,
  wander: Math.round(wander * 1000) / 1000,
  // When one plate lies off by the press's tolerance.
  register: Math.round(register * 1000) / 1000,
});

/** An ink that would have to be mixed, and of what; null where none is worth it. */
function ideaReport(asked: InkQuestion, nameOf: (plateId: string) => string) {
  const idea = finished(inkIdea(asked));
  if (!idea) return null;
  const mix = mixInk(idea.ink.colour, asked.stock);
  return {
    color: idea.ink.colour,
    inPlaceOf: nameOf(idea.plateId),
    ...rounded(idea),
    mix: mix && {
      parts: mix.parts.map(({ ink, part }) => ({ name: ink.name, part })),
      difference: Math.round(mix.difference * 100) / 100,
    },
  };
}

/** What `report.json` says of a job's inks: how near each number of screens comes, what all of stock would reach, what each plate is worth. */
export function inkReport(sheet: JobSheet, colours: ArtworkColours) {
  if (colours.few.length === 0) return null;
  const asked = question(sheet, colours);
  const present = finished(presentInks(asked));
  const nameOf = (plateId: string) => sheet.plates.find(({ id }) => id === plateId)!.ink.name;
  const offers = allOffers(asked);
  return {
    screens: offers.map((offer) => ({
      screens: offer.inks.length,
      inks: offer.inks.map(({ ink }) => ink.name),
      ...rounded(offer),
    })),
    allOfStock: rounded(allInks(asked, offers.at(-1) ?? null)),
    present: present && rounded(present),
    idea: present && ideaReport(asked, nameOf),
    plates: present?.plates.map(({ plateId, without, swap }) => ({
      name: nameOf(plateId),
      without: without && rounded(without),
      swap: swap && { name: swap.ink.name, ...rounded(swap) },
    })),
  };
}

export type InkReport = ReturnType<typeof inkReport>;
