import type { JobSheet } from '../sheet';
import { filmToneTable } from '../tone';
import { toneRule, unheldShare } from './filmTones';

/** Which tones of a plate come through its screen. */
export interface HeldTones {
  /** Coverage on film below which dots are lost; 0 where none are. */
  readonly lostBelow: number;
  /** The same as tone in print, 0..65535, and the tone above which dots plug. */
  readonly lostBelowTone: number;
  readonly plugsAboveTone: number;
}

/** For each plate of a sheet the tones that hold; where it has no dots all of them. */
export function holdsOf(sheet: JobSheet): HeldTones[] {
  return sheet.plates.map((plate) => {
    const { screening, largest } = plate.screen;
    if (screening === 'solid') return { lostBelow: 0, lostBelowTone: 0, plugsAboveTone: 65535 };
    const lostBelow = unheldShare(plate);
    const film = filmToneTable(toneRule(sheet, plate));
    const reached = (coverage: number) => {
      const tone = film.findIndex((value) => value >= coverage * 65535);
      return tone < 0 ? 65535 : tone;
    };
    // Openings that the screen keeps open do not plug.
    const plugs = screening === 'grid' && largest > sheet.limits.plugging;
    return {
      lostBelow,
      lostBelowTone: lostBelow > 0 ? reached(lostBelow) : 0,
      plugsAboveTone: plugs ? reached(sheet.limits.plugging) : 65535,
    };
  });
}
