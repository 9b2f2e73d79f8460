import { type Allocator, FRESH_MEMORY, LEAST_TONE, forEachRun } from '../raster';
import { SOLID_TILE, type ThresholdTile, type ThresholdTiles, foldTile } from '../screening';
import { stageTable } from '../stages';
import { type JobSheet, START_STOCK, type Plate, stagesOf, threadUmOf } from '../sheet';
import { type FilmToneRule, filmToneTable, isPlain, smallestDot } from '../tone';

/** Diameter of the smallest dot that a mesh holds: one opening and two threads. Common practice, no source. */
export function smallestDotUm(mesh: number): number {
  return 25400 / mesh + threadUmOf(START_STOCK.meshes, mesh);
}

/** How the tones of a plate go to film. */
export function toneRule(sheet: JobSheet, plate: Plate): FilmToneRule {
  const { gain, measured } = plate.screen;
  return { gain, measured, printer: sheet.film.printerTones };
}

/** Coverage of the smallest dot on film of a plate with dots on a grid; 0 where dots of any size are kept. */
export function smallestShare({ screen, mesh }: Plate): number {
  return screen.holdSmallest ? smallestDot(screen.lpi, smallestDotUm(mesh)) : 0;
}

/** Coverage on film below which dots of a plate are smaller than its mesh holds, as far as its screen makes them at all; 0 where it makes none. */
export function unheldShare(plate: Plate): number {
  const { screening, lpi, interlock, holdSmallest } = plate.screen;
  if (screening !== 'grid' || (holdSmallest && interlock === null)) return 0;
  return smallestDot(lpi, smallestDotUm(plate.mesh));
}

/** Tables from tones that are wanted in print to what stands on film; each is made once. */
export class FilmTones {
  private readonly tables = new Map<string, Uint16Array>();
  private readonly complete = new Map<string, Uint16Array>();
  private readonly folded = new Map<ThresholdTile, Map<Uint16Array, ThresholdTile>>();

  private table(rule: FilmToneRule): Uint16Array {
    const key = JSON.stringify(rule);
    let table = this.tables.get(key);
    if (!table) {
      table = filmToneTable(rule);
      this.tables.set(key, table);
    }
    return table;
  }

  /**
   * Tones as they stand on film; the same array where film and print do not differ.
   *
   * @param shape where the plate prints: tones elsewhere mean nothing, and are left out.
   */
  onFilm(
    sheet: JobSheet,
    plate: Plate,
    tone: Uint16Array,
    shape: Uint8Array | null = null,
    memory: Allocator = FRESH_MEMORY,
  ): Uint16Array {
    if (plate.screen.screening === 'solid') return allOrNothing(tone);
    const rule = toneRule(sheet, plate);
    return isPlain(rule) ? tone : mapTones(tone, this.table(rule), shape, memory);
  }

  /** What a plate's stages and `onFilm` make of every tone that its colours give it, and nothing of what is too little to print. */
  filmTable(sheet: JobSheet, plate: Plate): Uint16Array {
    const solid = plate.screen.screening === 'solid';
    const key = JSON.stringify([solid ? 'solid' : toneRule(sheet, plate), stagesOf(plate)]);
    let table = this.complete.get(key);
    if (!table) {
      const all = stageTable(stagesOf(plate)) ?? Uint16Array.from({ length: 65536 }, (_, tone) => tone);
      table = this.onFilm(sheet, plate, all).slice().fill(0, 0, LEAST_TONE);
      this.complete.set(key, table);
    }
    return table;
  }

  /** The tile of a plate for tones as they are wanted: what `filmTable` says is in its thresholds. */
  foldedTile(sheet: JobSheet, plate: Plate, tile: ThresholdTile): ThresholdTile {
    const table = this.filmTable(sheet, plate);
    const ofTile = this.folded.get(tile) ?? new Map<Uint16Array, ThresholdTile>();
    this.folded.set(tile, ofTile);
    const folded = ofTile.get(table) ?? foldTile(tile, table);
    ofTile.set(table, folded);
    return folded;
  }

  /** Film tones as they are asked of the film printer: nothing but its own gain is made up for. */
  asAsked(sheet: JobSheet, plate: Plate, film: Uint16Array): Uint16Array {
    if (plate.screen.screening === 'solid') return allOrNothing(film);
    const rule = { gain: 0, printer: sheet.film.printerTones };
    return isPlain(rule) ? film : mapTones(film, this.table(rule), null, FRESH_MEMORY);
  }

  /** Tones as they print where the mesh loses dots that are too small for it: 0 there. Null where a plate has no such dots. */
  withoutUnheld(sheet: JobSheet, plate: Plate, tone: Uint16Array): Uint16Array | null {
    const least = unheldShare(plate) * 65535;
    if (least === 0) return null;
    const film = this.onFilm(sheet, plate, tone);
    const isLost = (i: number) => tone[i]! >= LEAST_TONE && film[i]! < least;
    return tone.some((_, i) => isLost(i)) ? tone.map((value, i) => (isLost(i) ? 0 : value)) : null;
  }

  /** Tones as they print: as they are wanted, but that a plate without dots has none. */
  inPrint(plate: Plate, tone: Uint16Array): Uint16Array {
    return plate.screen.screening === 'solid' ? allOrNothing(tone) : tone;
  }
}

/** Without dots a place prints or does not: it does from a half on. */
function allOrNothing(tone: Uint16Array): Uint16Array {
  return tone.map((value) => (value >= 32768 ? 65535 : 0));
}

/** The thresholds of a plate's screen. Throws what `buildThresholdTile` throws. */
export function plateTile(tiles: ThresholdTiles, dpi: number, plate: Plate): ThresholdTile {
  const { screening, lpi, angleDeg, interlock, shape, ratio, dotUm, largest } = plate.screen;
  if (screening === 'solid') return SOLID_TILE;
  if (screening === 'dispersed') return tiles.get({ dpi, dotUm: dotUm ?? smallestDotUm(plate.mesh) });
  if (interlock !== null) return tiles.get({ dpi, lpi, angleDeg, shape: 'sectors' });
  return tiles.get({ dpi, lpi, angleDeg, shape, ratio, smallest: smallestShare(plate), largest });
}

/**
 * Tones looked up in a table of 65536.
 *
 * @param shape where they mean something; null: everywhere. Elsewhere they come back as whatever the memory holds.
 */
export function mapTones(
  tone: Uint16Array,
  table: Uint16Array,
  shape: Uint8Array | null,
  memory: Allocator,
): Uint16Array {
  const mapped = memory.words(tone.length);
  const mapRun = (from: number, to: number) => {
    for (let i = from; i < to; i++) mapped[i] = table[tone[i]!]!;
  };
  if (shape) forEachRun(shape, mapRun);
  else mapRun(0, tone.length);
  return mapped;
}
