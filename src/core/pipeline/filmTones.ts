import { START_STOCK, type Plate, threadUmOf } from '../sheet';
import { filmToneTable, smallestDot } from '../tone';

/** Diameter of the smallest dot that a mesh holds: one opening and two threads. Common practice, no source. */
export function smallestDotUm(mesh: number): number {
  return 25400 / mesh + threadUmOf(START_STOCK.meshes, mesh);
}

/** What stands on film for each tone that is to print, by plate; tables are made once. */
export class FilmTones {
  private readonly tables = new Map<string, Uint16Array>();

  /** Tones as they stand on film; the same array where film and print do not differ. */
  apply(plate: Plate, tone: Uint16Array): Uint16Array {
    const { gain, holdSmallest, largest, lpi } = plate.screen;
    if (gain === 0 && !holdSmallest && largest === 1) return tone;
    const smallest = holdSmallest ? smallestDot(lpi, smallestDotUm(plate.mesh)) : 0;
    const key = `${gain}/${smallest}/${largest}`;
    let table = this.tables.get(key);
    if (!table) {
      table = filmToneTable({ gain, smallest, largest });
      this.tables.set(key, table);
    }
    const film = new Uint16Array(tone.length);
    for (let i = 0; i < tone.length; i++) film[i] = table[tone[i]!]!;
    return film;
  }
}
