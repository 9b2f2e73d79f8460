import { SOLID_TILE, type ThresholdTile, type ThresholdTiles } from '../screening';
import { type JobSheet, START_STOCK, type Plate, threadUmOf } from '../sheet';
import { type FilmToneRule, filmToneTable, isPlain, printToneTable, smallestDot } from '../tone';

/** Diameter of the smallest dot that a mesh holds: one opening and two threads. Common practice, no source. */
export function smallestDotUm(mesh: number): number {
  return 25400 / mesh + threadUmOf(START_STOCK.meshes, mesh);
}

/** How the tones of a plate go to film. Dispersed dots have a size of their own, so none is too small or too large. */
export function toneRule(sheet: JobSheet, plate: Plate): FilmToneRule {
  const { screening, gain, measured, holdSmallest, largest, lpi } = plate.screen;
  const grid = screening === 'grid';
  return {
    gain,
    measured,
    printer: sheet.film.printerTones,
    smallest: grid && holdSmallest ? smallestDot(lpi, smallestDotUm(plate.mesh)) : 0,
    largest: grid ? largest : 1,
  };
}

/** Tables from tones that are wanted in print to what stands on film, and to what prints of it; each is made once. */
export class FilmTones {
  private readonly tables = new Map<string, Uint16Array>();

  private table(rule: FilmToneRule, name: string, make: (rule: FilmToneRule) => Uint16Array): Uint16Array {
    const key = `${name}|${JSON.stringify(rule)}`;
    let table = this.tables.get(key);
    if (!table) {
      table = make(rule);
      this.tables.set(key, table);
    }
    return table;
  }

  /** Tones as they stand on film; the same array where film and print do not differ. */
  onFilm(sheet: JobSheet, plate: Plate, tone: Uint16Array): Uint16Array {
    if (plate.screen.screening === 'solid') return allOrNothing(tone);
    const rule = toneRule(sheet, plate);
    return isPlain(rule) ? tone : mapTones(tone, this.table(rule, 'film', filmToneTable));
  }

  /** Film tones as they are asked of the film printer: nothing but its own gain is made up for. */
  asAsked(sheet: JobSheet, plate: Plate, film: Uint16Array): Uint16Array {
    if (plate.screen.screening === 'solid') return allOrNothing(film);
    const rule = { gain: 0, printer: sheet.film.printerTones, smallest: 0, largest: 1 };
    return isPlain(rule) ? film : mapTones(film, this.table(rule, 'film', filmToneTable));
  }

  /** Tones as they print; the same array where every tone prints as it is wanted. */
  inPrint(sheet: JobSheet, plate: Plate, tone: Uint16Array): Uint16Array {
    if (plate.screen.screening === 'solid') return allOrNothing(tone);
    const rule = toneRule(sheet, plate);
    if (rule.smallest === 0 && rule.largest === 1) return tone;
    return mapTones(tone, this.table(rule, 'print', printToneTable));
  }
}

/** Without dots a place prints or does not: it does from a half on. */
function allOrNothing(tone: Uint16Array): Uint16Array {
  return tone.map((value) => (value >= 32768 ? 65535 : 0));
}

/** The thresholds of a plate's screen. Throws what `buildThresholdTile` throws. */
export function plateTile(tiles: ThresholdTiles, dpi: number, plate: Plate): ThresholdTile {
  const { screening, lpi, angleDeg, shape, ratio, dotUm } = plate.screen;
  if (screening === 'solid') return SOLID_TILE;
  if (screening === 'dispersed') return tiles.get({ dpi, dotUm: dotUm ?? smallestDotUm(plate.mesh) });
  return tiles.get({ dpi, lpi, angleDeg, shape, ratio });
}

function mapTones(tone: Uint16Array, table: Uint16Array): Uint16Array {
  const mapped = new Uint16Array(tone.length);
  for (let i = 0; i < tone.length; i++) mapped[i] = table[tone[i]!]!;
  return mapped;
}
