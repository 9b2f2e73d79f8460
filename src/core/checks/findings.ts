import { ciede2000, labFromRgb8, parseHexColour } from '../colour';
import { layoutSheet } from '../film';
import { planPress } from '../press';
import { type NamedPlate, nestedPlates } from '../separation';
import {
  type CheckLimits,
  DEFAULT_LIMITS,
  type JobSheet,
  type Plate,
  artworkOf,
  effectiveChokeMm,
  printsTones,
  paletteOf,
  fullToneLayer,
} from '../sheet';
import { KerameusError, MM_PER_INCH, trimNumber } from '../units';
import {
  type ArtworkNotes,
  type ColourSurvey,
  type GapSurvey,
  type PieceSurvey,
  type PrintDifference,
  NO_NOTES,
  checkAreas,
  checkColours,
  checkGaps,
  checkNotes,
  checkPieces,
} from './colourFindings';
import { checkBases } from './baseFindings';
import { type HoldSurvey, type ThinSurvey, checkHolds, checkThin, checkVanishing } from './holdFindings';
import { checkKept } from './keptFindings';
import { type EdgeSurvey, checkOverprint, checkShift } from './shiftFindings';
import { type WearSurvey, checkTexture, checkWear } from './textureFindings';
import { type PlateSurvey, checkAngles, checkCoverage, checkScreens, placeOf } from './plateFindings';
import { checkSupplied } from './suppliedFindings';
import { checkTones } from './toneFindings';

export type Severity = 'severe' | 'notice';

/** The steps of the work, in order; a finding belongs to the one where it is mended. */
export type Step = 'artwork' | 'plates' | 'fit' | 'dots' | 'film';

/** A place on the print, in millimetres from its top left corner. */
export interface PrintPlace {
  readonly xMm: number;
  readonly yMm: number;
}

/** Something about a job that deserves a look before films are made. */
export interface Finding {
  readonly code: string;
  readonly severity: Severity;
  readonly step: Step;
  readonly message: string;
  readonly remedy: string;
  readonly measured?: number;
  readonly limit?: number;
  readonly plateId?: string;
  /** The other plate that it speaks of. */
  readonly otherId?: string;
  /** Plates of the file that it tells of. */
  readonly named?: readonly NamedPlate[];
  /** Which of several remedies it asks for. */
  readonly act?: 'choke' | 'trap';
  readonly place?: PrintPlace;
  /** Whether it is seen at the film's own pixels alone. */
  readonly close?: boolean;
  /** The artwork's colour that it speaks of. */
  readonly colour?: string;
  /** Share of the print that it speaks of, 0 to 1. */
  readonly share?: number;
}

/** How good a resolution at print size is. Common practice, no source. */
export type ResolutionJudgement = 'vector' | 'right' | 'soft' | 'low';

/** Artwork pixels per inch of print; null for vector artwork. */
export function artworkDpi(sheet: Pick<JobSheet, 'artworks' | 'print'>): number | null {
  const { kind, widthPx } = artworkOf(sheet);
  if (kind === 'vector') return null;
  return widthPx / (sheet.print.widthMm / MM_PER_INCH);
}

export function judgeResolution(
  dpi: number | null,
  { rightDpi, softDpi }: CheckLimits = DEFAULT_LIMITS,
): ResolutionJudgement {
  if (dpi === null) return 'vector';
  // Half a pixel in an inch is rounding, not a fault.
  if (dpi >= rightDpi - 0.5) return 'right';
  return dpi >= softDpi ? 'soft' : 'low';
}

/** What can be found without evaluating plates. */
export function checkSheet(sheet: JobSheet, notes: ArtworkNotes = NO_NOTES): Finding[] {
  return [
    ...checkArtwork(sheet, notes.missingFonts),
    ...checkPictures(notes.pictures),
    ...checkPage(notes.page),
    ...checkNotes(sheet, notes),
    ...checkSupplied(sheet, notes.plates),
    ...checkInks(sheet),
    ...checkTones(sheet),
    ...checkKept(sheet, notes.keepable),
    ...checkFit(sheet),
    ...checkBases(sheet),
    ...checkTexture(sheet),
    ...checkRun(sheet),
    ...checkFilm(sheet),
  ];
}

function checkArtwork(sheet: JobSheet, missingFonts: readonly string[]): Finding[] {
  const findings: Finding[] = [];
  const dpi = artworkDpi(sheet);
  const judgement = judgeResolution(dpi, sheet.limits);
  if (judgement === 'soft' || judgement === 'low') {
    findings.push({
      code: 'resolution-low',
      severity: judgement === 'low' ? 'severe' : 'notice',
      step: 'artwork',
      message: `The artwork has ${trimNumber(dpi!, 0)} dpi at print size.`,
      remedy: fullToneLayer(sheet)
        ? `Lettering and fine lines want ${trimNumber(sheet.limits.rightDpi, 0)} dpi: ask for larger artwork, or print smaller.`
        : `Edges of flat artwork want ${trimNumber(sheet.limits.rightDpi, 0)} dpi: ask for larger artwork, print smaller, or make smooth areas of it.`,
      measured: Math.round(dpi!),
      limit: sheet.limits.rightDpi,
    });
  }
  for (const font of missingFonts) {
    findings.push({
      code: 'font-missing',
      severity: 'severe',
      step: 'artwork',
      message: `The artwork's font "${font}" is not here; its text is set in another one.`,
      remedy: 'Turn text into shapes in the drawing program and drop the file again.',
    });
  }
  if (paletteOf(sheet).length === 0 && !printsTones(sheet)) {
    findings.push({
      code: 'no-colours',
      severity: 'severe',
      step: 'plates',
      message: 'No flat colour was found in the artwork.',
      remedy: 'Spot separation is for flat artwork: full-tone artwork has no areas of one colour.',
    });
  }
  return findings;
}

/** Of several pictures in one file the first is printed. */
function checkPictures(pictures: number): Finding[] {
  if (pictures < 2) return [];
  return [
    {
      code: 'first-picture',
      severity: 'notice',
      step: 'artwork',
      message: `The file holds ${pictures} pictures: the first one is printed.`,
      remedy: 'If another one is meant, export it as a file of its own.',
      measured: pictures,
    },
  ];
}

function checkPage(page: ArtworkNotes['page']): Finding[] {
  const findings: Finding[] = [];
  if (page && page.faults > 0) {
    findings.push({
      code: 'page-faults',
      severity: 'severe',
      step: 'artwork',
      message: `The PDF's page has ${page.faults === 1 ? 'a fault' : `${page.faults} faults`}: parts of it may be missing or wrong.`,
      remedy: 'Compare it with the file in another program, or export the PDF again.',
      measured: page.faults,
      limit: 0,
    });
  }
  if (page && page.pictures > 0) {
    findings.push({
      code: 'page-pictures',
      severity: 'notice',
      step: 'artwork',
      message: `${page.pictures === 1 ? 'An effect' : `${page.pictures} effects`} of the PDF's page became ${page.pictures === 1 ? 'a picture' : 'pictures'} of ${page.pictureDpi} dpi at the page's own size.`,
      remedy: 'Edges inside of it are as sharp as that; shapes without such effects stay shapes.',
      measured: page.pictures,
    });
  }
  return findings;
}

function labOf(plate: Plate) {
  return labFromRgb8(parseHexColour(plate.ink.colour));
}

function checkInks(sheet: JobSheet): Finding[] {
  const findings: Finding[] = [];
  const colours = sheet.plates.filter((plate) => plate.role === 'colour');
  colours.forEach((one, k) => {
    for (const other of colours.slice(k + 1)) {
      const difference = ciede2000(labOf(one), labOf(other));
      if (difference >= sheet.limits.likeInks) continue;
      findings.push({
        code: 'inks-nearly-equal',
        severity: 'notice',
        step: 'plates',
        message: `${one.ink.name} and ${other.ink.name} differ by ${difference.toFixed(0)} only.`,
        remedy: 'Merge them and save a screen.',
        measured: Math.round(difference * 10) / 10,
        limit: sheet.limits.likeInks,
        plateId: other.id,
        otherId: one.id,
      });
    }
  });
  return findings;
}

function checkFit(sheet: JobSheet): Finding[] {
  const base = sheet.plates.find((plate) => plate.role === 'underbase');
  const inset = effectiveChokeMm(sheet) + sheet.fit.spreadMm;
  const { toleranceMm } = sheet.press;
  if (!base || inset >= toleranceMm - 1e-9) return [];
  return [
    {
      code: 'base-wider-than-tolerance',
      severity: 'severe',
      step: 'fit',
      message: `The base ends ${trimNumber(inset, 2)} mm inside its colours; the press wanders by ${trimNumber(toleranceMm, 2)} mm.`,
      remedy: `White will peek out by up to ${trimNumber(toleranceMm - inset, 2)} mm: choke the base more, or spread the colours.`,
      measured: inset,
      limit: toleranceMm,
      plateId: base.id,
    },
  ];
}

function checkRun(sheet: JobSheet): Finding[] {
  const findings: Finding[] = [];
  const { press } = sheet;
  const plan = planPress(sheet);
  if (plan.headsUsed > press.heads) {
    findings.push({
      code: 'run-too-long',
      severity: 'severe',
      step: 'plates',
      message: `The run takes ${plan.headsUsed} heads; ${press.name} has ${press.heads}.`,
      remedy: 'Merge inks, take a flash or an empty head out, or print part of it in a second turn.',
      measured: plan.headsUsed,
      limit: press.heads,
    });
  }
  if (plan.flashesUsed > press.flashes) {
    findings.push({
      code: 'too-many-flashes',
      severity: 'severe',
      step: 'plates',
      message: `The run has ${plan.flashesUsed} flashes; ${press.name} has ${press.flashes}.`,
      remedy: 'Take a flash out of the run, or choose another press.',
      measured: plan.flashesUsed,
      limit: press.flashes,
    });
  }
  const first = sheet.plates.find(({ role }) => role !== 'special');
  const base = sheet.plates.find((plate) => plate.role === 'underbase');
  if (base && first !== base) {
    findings.push({
      code: 'base-not-first',
      severity: 'severe',
      step: 'plates',
      message: `${base.ink.name} prints after ${first!.ink.name}.`,
      remedy: 'Move the underbase to the beginning of the run.',
      plateId: base.id,
    });
  } else if (base && sheet.run.length > 1) {
    const at = sheet.run.findIndex((station) => station.kind === 'screen' && station.plateId === base.id);
    const following = sheet.run
      .slice(at + 1)
      .find((station) => station.kind === 'flash' || station.kind === 'screen');
    if (following?.kind === 'screen' && following.plateId !== base.id) {
      findings.push({
        code: 'base-not-flashed',
        severity: 'notice',
        step: 'plates',
        message: 'The underbase is not flashed before the next screen.',
        remedy: 'Put a flash behind it: on a wet base colours mix and smear.',
        plateId: base.id,
      });
    }
  }
  return findings;
}

function checkFilm(sheet: JobSheet): Finding[] {
  try {
    layoutSheet(sheet);
    return [];
  } catch (thrown) {
    if (!(thrown instanceof KerameusError)) throw thrown;
    return [
      {
        code: thrown.code,
        severity: 'severe',
        step: 'film',
        message: thrown.message,
        remedy: thrown.remedy ?? '',
      },
    ];
  }
}

/** What a survey of the whole print found, as far as checks want it. */
export interface PrintSurvey {
  /** In the order of the plates. */
  readonly plates: readonly PlateSurvey[];
  /** Share of the print where two plates both have dots, and a place of it; by `one * count + other`, one < other. */
  readonly overlaps: readonly { readonly share: number; readonly place: PrintPlace | null }[];
  /** In the order of the palette. */
  readonly colours: readonly ColourSurvey[];
  /** Null where they were not looked for. */
  readonly gaps: GapSurvey | null;
  /** What shows at edges when a screen lies off; null where that was not looked for. */
  readonly edges: EdgeSurvey | null;
  /** Tones that do not hold, in the order of the plates. */
  readonly holds: readonly HoldSurvey[];
  /** Null where thin places were not looked for. */
  readonly thin: ThinSurvey | null;
  /** Small pieces, in the order of the plates; null where they were not looked for. */
  readonly pieces: readonly PieceSurvey[] | null;
  /** Null where the job has no texture. */
  readonly wear: WearSurvey | null;
  /** Null where print and artwork were not compared. */
  readonly difference: PrintDifference | null;
}

/** Findings that can be seen wherever their plate prints. */
const SEEN_ON_PLATE: readonly string[] = ['base-wider-than-tolerance', 'inks-nearly-equal'];

function placedBy(finding: Finding, sheet: JobSheet, survey: PrintSurvey): Finding {
  if (!SEEN_ON_PLATE.includes(finding.code)) return finding;
  const found = survey.plates[sheet.plates.findIndex((plate) => plate.id === finding.plateId)];
  return found ? { ...finding, ...placeOf(found) } : finding;
}

/** Everything that deserves a look before films are made: what the sheet tells, and what a survey of the print found. */
export function findingsOf(sheet: JobSheet, notes: ArtworkNotes, survey: PrintSurvey | null): Finding[] {
  const found = checkSheet(sheet, notes);
  if (!survey) return found;
  const count = sheet.plates.length;
  const nested = nestedPlates(sheet);
  const ofColours = checkColours(sheet, survey.colours);
  return [
    ...found.map((finding) => placedBy(finding, sheet, survey)),
    ...ofColours,
    ...(survey.difference ? checkAreas(sheet, survey.difference.off, ofColours) : []),
    ...(survey.gaps ? checkGaps(sheet, survey.gaps) : []),
    ...(survey.edges ? [...checkShift(sheet, survey.edges), ...checkOverprint(sheet, survey.edges)] : []),
    ...(survey.wear ? checkWear(sheet, survey.wear) : []),
    ...checkScreens(sheet, survey),
    ...checkCoverage(sheet, survey.plates),
    ...checkHolds(sheet, survey.holds),
    ...(survey.thin ? checkThin(sheet, survey.thin) : []),
    ...(survey.pieces ? checkPieces(sheet, survey.pieces) : []),
    ...checkVanishing(sheet, survey.colours),
    ...checkAngles(sheet.plates, (one, other) => {
      // Dots that lie in each other want one angle.
      const isNested = nested.has(sheet.plates[one]!.id) && nested.has(sheet.plates[other]!.id);
      return isNested ? { share: 0, place: null } : survey.overlaps[one * count + other]!;
    }),
  ];
}
