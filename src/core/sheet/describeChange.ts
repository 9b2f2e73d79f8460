import { formatLength, trimNumber } from '../units';
import { effectiveChokeMm } from './choke';
import type { JobSheet } from './jobSheet';

function same(a: unknown, b: unknown): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

const percent = (share: number) => `${trimNumber(share * 100, 0)} %`;

/** What a change of a sheet was about, in a few words: the first thing that differs. */
export function describeChange(before: JobSheet, after: JobSheet): string {
  if (before.name !== after.name) return `name ${after.name}`;
  if (!same(before.print, after.print)) return `print ${formatLength(after.print.widthMm, 'in')} wide`;
  if (!same(before.garment, after.garment)) return `garment ${after.garment.name}`;
  if (!same(before.otherGarments, after.otherGarments)) return 'other garments';
  if (before.separation.method !== after.separation.method) {
    return after.separation.method === 'simulated' ? 'separated by tones' : 'separated by spot colours';
  }
  if (!same(before.background, after.background)) {
    return after.background && after.background.drop !== 'keep' ? 'background dropped' : 'background kept';
  }
  if (before.plates.length !== after.plates.length) return `${after.plates.length} plates`;
  if (!same(before.run, after.run)) return 'order of the run';
  if (!same(before.palette, after.palette)) return 'colours and their inks';
  for (const plate of after.plates) {
    const old = before.plates.find((each) => each.id === plate.id);
    if (!old) return `plate ${plate.ink.name}`;
    if (same(old, plate)) continue;
    if (!same(old.ink, plate.ink)) return `ink ${plate.ink.name}`;
    if (old.baseStrength !== plate.baseStrength) {
      return `base under ${plate.ink.name} ${percent(plate.baseStrength)}`;
    }
    if (old.mesh !== plate.mesh) return `${plate.ink.name} on ${plate.mesh} mesh`;
    if (!same(old.stages, plate.stages)) return `tone curve of ${plate.ink.name}`;
    if (!same(old.screen, plate.screen)) return `dots of ${plate.ink.name}`;
    return `plate ${plate.ink.name}`;
  }
  if (!same(before.fit, after.fit)) {
    if (effectiveChokeMm(before) !== effectiveChokeMm(after)) {
      return `choke ${formatLength(effectiveChokeMm(after), 'mm')}`;
    }
    if (!same(before.fit.press, after.fit.press)) return `press ${after.fit.press.name}`;
    if (before.fit.spreadMm !== after.fit.spreadMm) return `spread ${formatLength(after.fit.spreadMm, 'mm')}`;
    return 'fit';
  }
  if (!same(before.film, after.film)) return describeFilm(before.film, after.film);
  return 'no change';
}

function describeFilm(before: JobSheet['film'], after: JobSheet['film']): string {
  const differs = (...names: (keyof JobSheet['film'])[]) =>
    names.some((name) => !same(before[name], after[name]));
  if (differs('printer', 'dpi')) return `films at ${after.dpi} dpi`;
  if (differs('printerTones')) return after.printerTones ? "film printer's curve" : "no film printer's curve";
  if (differs('sheetWidthMm', 'sheetHeightMm')) {
    const width = formatLength(after.sheetWidthMm, 'in');
    if (after.sheetHeightMm === null) return `film roll of ${width}`;
    return `film sheet of ${width} x ${formatLength(after.sheetHeightMm, 'in')}`;
  }
  if (differs('turned')) return after.turned ? 'films turned' : 'films upright';
  if (differs('gang')) return 'sheet of ganged films';
  if (differs('printAtMm', 'collar')) return 'place on the film';
  if (differs('negative')) return after.negative ? 'negative films' : 'positive films';
  if (differs('emulsion')) return `emulsion ${after.emulsion}`;
  if (differs('stretch')) return 'films stretched';
  if (differs('marks')) return 'marks of the films';
  if (differs('label', 'labelFields', 'density', 'date')) return 'labels of the films';
  return 'files of the films';
}
