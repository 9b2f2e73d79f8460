import { slug } from '../separation';
import type { Plate } from '../sheet';

/** File name of a film without its ending: `02-harbour-blue`. Unique within a job by its number. */
export function filmBaseName(plate: Plate): string {
  return `${String(plate.number).padStart(2, '0')}-${slug(plate.ink.name)}`;
}
