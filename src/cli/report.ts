import {
  type ColourPrint,
  type EdgeSurvey,
  type Finding,
  adviseScreen,
  beatsOfPlates,
  riskWithMesh,
  shows,
  survivesMm,
  type PrintDifference,
} from '@/core/checks';
import { filmSize } from '@/core/film';
import { smallestDotUm, toneRule } from '@/core/pipeline';
import { realScreen } from '@/core/screening';
import { type JobSheet, type Plate, backgroundOf, fullToneLayer, layerOf, methodOf } from '@/core/sheet';
import { MM_PER_INCH } from '@/core/units';
import { solidReport } from './solids';
import type { DotsReport } from './toneDots';
import type { InkReport } from './toneInks';
import type { FilmSet } from '@/server/films';

/** What `report.json` says of a set of films. */
export function makeReport(
  sheet: JobSheet,
  set: FilmSet,
  found: {
    readonly difference: PrintDifference;
    readonly edges: EdgeSurvey | null;
    readonly colours: readonly ColourPrint[];
    readonly findings: readonly Finding[];
    /** Null where inks are not solved for. */
    readonly inks: InkReport | null;
    /** Null where dots were not compared. */
    readonly dots: DotsReport | null;
    /** Pieces of each film that are smaller than the press holds, by its number. */
    readonly smallPieces: Readonly<Record<number, number>>;
    readonly seconds: Readonly<Record<string, number>>;
  },
) {
  const { difference, findings, seconds } = found;
  return {
    plates: set.films.map(({ plate, number, coverage, screened, baseName }) => ({
      number,
      name: plate.ink.name,
      role: plate.role,
      ink: { name: plate.ink.name, color: plate.ink.colour, opacity: plate.ink.opacity },
      coverage: round(coverage, 6),
      smallPieces: found.smallPieces[number] ?? 0,
      mesh: plate.mesh,
      screen: {
        kind: screened ? SCREEN_KINDS[plate.screen.screening] : 'solid',
        lpi: plate.screen.lpi,
        angleDeg: plate.screen.angleDeg,
        shape: plate.screen.interlock === null ? plate.screen.shape : 'sectors',
        ratio: plate.screen.ratio,
        interlock: plate.screen.interlock,
        ...(screened ? filmScreen(sheet, plate) : {}),
      },
      tones: toneRule(sheet, plate),
      ...(screened && plate.screen.screening === 'grid' ? { advice: screenReport(sheet, plate) } : {}),
      file: `${baseName}.tif`,
    })),
    printAtMm: printAt(set),
    printSizeMm: { width: sheet.print.widthMm, height: sheet.print.heightMm },
    film: filmReport(set),
    colours: found.colours.map(({ colour, share, plateId, tint, printed, difference: off }) => ({
      color: colour,
      area: round(share ?? 0, 6),
      plate: sheet.plates.find((plate) => plate.id === plateId)?.ink.name ?? null,
      tint,
      printed,
      difference: round(off, 2),
    })),
    method: methodOf(sheet),
    // Percent of the artwork's width and height; null: all of it prints.
    part: layerOf(sheet).mask?.map(([x, y]) => [round(x * 100, 3), round(y * 100, 3)]) ?? null,
    // Differences, inks and dots are from the artwork as it was changed before separation; null: as it came.
    changed: fullToneLayer(sheet)?.adjust ?? null,
    difference: { mean: round(difference.mean, 3), p95: round(difference.p95, 3) },
    // From the artwork as it came, where it was changed.
    differenceAsItCame: difference.asItCame && {
      mean: round(difference.asItCame.mean, 3),
      p95: round(difference.asItCame.p95, 3),
    },
    // Shares of the print that are 2 (CIEDE2000) off and more, by what stands in the way.
    reasons: difference.reasons && {
      beyondInks: round(difference.reasons.inks, 4),
      lighterThanWhites: round(difference.reasons.light, 4),
      darkerThanGarment: round(difference.reasons.dark, 4),
      changed: round(difference.reasons.changed, 4),
      dotsTooSmall: round(difference.reasons.dots, 4),
    },
    printable: difference.printable && {
      mean: round(difference.printable.mean, 3),
      p95: round(difference.printable.p95, 3),
    },
    // How far any one screen may lie off before garment or white shows; null where that was not looked for.
    shift: found.edges && {
      survivesMm: round(survivesMm(found.edges), 3),
      toleranceMm: sheet.press.toleranceMm,
    },
    garments: garmentsReport(sheet, difference),
    // Flat colours that are kept out of the tones.
    solid: solidReport(sheet),
    inks: found.inks,
    dots: found.dots,
    dropped: difference.dropped && {
      color: backgroundOf(sheet)?.colour,
      area: round(difference.dropped.share, 6),
      difference: round(difference.dropped.difference, 2),
      counted: difference.dropped.counted,
    },
    patternsOfPlates: beatsOfPlates(
      set.films.filter(({ screened }) => screened).map(({ plate }) => plate),
      () => true,
    )
      .slice(0, 10)
      .map(({ plates, beat }) => ({
        plates: plates.map((plate) => plate.ink.name),
        periodMm: round(beat.periodMm, 2),
        shows: shows(beat),
      })),
    findings,
    seconds,
  };
}

/** Each garment of the job, with the screens that do not run for it; the difference of those that the plates are made for. */
function garmentsReport({ garments, plates }: JobSheet, difference: PrintDifference) {
  const rounded = (each: { readonly mean: number; readonly p95: number }) => ({
    mean: round(each.mean, 3),
    p95: round(each.p95, 3),
  });
  return garments.map(({ id, name, colour, without }, k) => {
    const found = k === 0 ? difference : difference.others.find(({ garmentId }) => garmentId === id);
    return {
      name,
      color: colour,
      without: plates.filter((plate) => without.includes(plate.id)).map(({ ink }) => ink.name),
      difference: found ? rounded(found) : null,
      printable: found?.printable ? rounded(found.printable) : null,
    };
  });
}

const SCREEN_KINDS = { grid: 'am', dispersed: 'dispersed', solid: 'solid' } as const;

/** What the screen of a film really has. */
function filmScreen({ film }: JobSheet, { screen }: Plate) {
  if (screen.screening !== 'grid') return {};
  const { lpi, angleDeg } = realScreen({ dpi: film.dpi, lpi: screen.lpi, angleDeg: screen.angleDeg });
  return { real: { lpi: round(lpi, 3), angleDeg: round(angleDeg, 3) } };
}

/** Where the print's top left corner lies on the film. */
function printAt({ plan }: FilmSet) {
  const { printXPx, printYPx } = plan.layout;
  const mm = (px: number) => round((px * MM_PER_INCH) / plan.sheet.film.dpi, 3);
  return { x: mm(printXPx), y: mm(printYPx) };
}

/** The films as they lie on their sheets. */
function filmReport({ plan, gangs }: FilmSet) {
  const { widthMm, heightMm, widthPx, heightPx } = filmSize(plan.layout);
  const { dpi, negative, emulsion, sheetHeightMm, turned, stretch } = plan.sheet.film;
  return {
    widthMm: round(widthMm, 3),
    heightMm: round(heightMm, 3),
    widthPx,
    heightPx,
    dpi,
    roll: sheetHeightMm === null,
    turned,
    polarity: negative ? 'negative' : 'positive',
    emulsion,
    stretchPerMille: stretch,
    gangs: gangs.map((gang) => ({ widthMm: round(gang.widthMm, 3), heightMm: round(gang.heightMm, 3) })),
  };
}

/** What mesh and film make of a screen, and the pattern that it makes with its mesh. */
function screenReport(sheet: JobSheet, plate: Plate) {
  const { threads, greys, warnings } = adviseScreen(plate, sheet.film.dpi);
  const { worst, share } = riskWithMesh(plate.screen, plate.mesh);
  return {
    threadsPerCell: round(threads, 2),
    greyLevels: greys,
    smallestDotUm: Math.round(smallestDotUm(plate.mesh)),
    warnings,
    meshPattern: worst
      ? { shareOfMeshes: round(share, 2), worstPeriodMm: round(worst.periodMm, 2) }
      : { shareOfMeshes: 0, worstPeriodMm: null },
  };
}

function round(value: number, digits: number): number {
  return Number(value.toFixed(digits));
}
