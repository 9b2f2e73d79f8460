import { mostTone } from '../stages';
import { baseUnder } from './baseUnder';
import {
  type JobSheet,
  type Plate,
  artworkOf,
  halftoneWhite,
  printsTones,
  paletteOf,
  stagesOf,
  transitionsOf,
} from '../sheet';

/**
 * Whether a plate can have dots anywhere: a tint, a transition of the artwork, stages that print less than solid for it, or a base that is less than solid
 * or lies under such ink.
 * Of jobs of earlier versions transitions are not known, and every plate can.
 */
export function mayHaveTone(sheet: JobSheet, plate: Plate): boolean {
  if (plate.screen.screening === 'solid') return false;
  if (printsTones(sheet)) return true;
  const transitions = transitionsOf(sheet);
  if (transitions === null || mostTone(stagesOf(plate)) < 65535) return true;
  // Smooth edges that lie in a transition are part of it.
  if (artworkOf(sheet).kind === 'raster' && transitions.length > 0) return true;
  const soft = new Set(transitions.flat());
  const isSoft = (id: string): boolean =>
    paletteOf(sheet).some((entry) => entry.plateId === id && (entry.tint < 1 || soft.has(entry.colour)));
  const white = halftoneWhite(sheet);
  // Of a base that is parted the one white is solid, the other dots.
  if (plate.role === 'underbase' && white) return false;
  if (plate.role !== 'underbase' && plate !== white) return isSoft(plate.id);
  return paletteOf(sheet).some((entry) => {
    const wanted = baseUnder(sheet, entry);
    return wanted > 0 && (wanted < 1 || soft.has(entry.colour));
  });
}
