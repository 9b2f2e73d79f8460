import type { JobSheet, Plate, Station } from './jobSheet';
import type { SpecialKind } from './vocabulary';

/** Ids of the plates in the order in which a run first comes to them. */
export function firstPasses(run: readonly Station[]): string[] {
  return [...new Set(run.flatMap((station) => (station.kind === 'screen' ? [station.plateId] : [])))];
}

/** The plates as they print one after another; one that prints twice stands here twice. */
export function passes(sheet: Pick<JobSheet, 'plates' | 'run'>): Plate[] {
  return sheet.run.flatMap((station) =>
    station.kind === 'screen' ? sheet.plates.filter((plate) => plate.id === station.plateId) : [],
  );
}

/** The usual run: base and flash, colours, and before a highlight white another flash. Common practice, no source. */
export function proposeRun(plates: readonly Pick<Plate, 'id' | 'role'>[]): Station[] {
  const based = plates.some((plate) => plate.role === 'underbase');
  const run: Station[] = [];
  plates.forEach((plate, index) => {
    const before = plates[index - 1];
    if (plate.role === 'highlight' && before?.role === 'colour' && based) run.push({ kind: 'flash' });
    run.push({ kind: 'screen', plateId: plate.id });
    if (plate.role === 'underbase' && index + 1 < plates.length) run.push({ kind: 'flash' });
  });
  return run;
}

/** A run without the places of plates that are gone, and without flashes that have nothing before or behind them any more. */
function withoutGone(run: readonly Station[], ids: ReadonlySet<string>): Station[] {
  const kept = run.filter((station) => station.kind !== 'screen' || ids.has(station.plateId));
  const flashed = kept.filter((station, index) => {
    if (station.kind !== 'flash') return true;
    const before = kept.slice(0, index).some((each) => each.kind === 'screen');
    return before && kept[index - 1]?.kind !== 'flash';
  });
  // A flash that the last screen of the run stood behind.
  const isCut = kept.length < run.length && run.at(-1)?.kind !== 'flash';
  return isCut && flashed.at(-1)?.kind === 'flash' ? flashed.slice(0, -1) : flashed;
}

/** Garments and the texture leave out only what is there, and only such plates are pairs. */
function withoutLost(given: JobSheet): JobSheet {
  const known = new Set(given.plates.map(({ id }) => id));
  const sheet = withSpecialsOn(withPairsOn(withTextureOn(given, known), known), known);
  if (sheet.garments.every(({ without }) => without.every((id) => known.has(id)))) return sheet;
  const garments = sheet.garments.map((each) => ({
    ...each,
    without: each.without.filter((id) => known.has(id)),
  }));
  return { ...sheet, garments };
}

function withPairsOn(sheet: JobSheet, known: ReadonlySet<string>): JobSheet {
  const pairs = sheet.fit.pairs.filter(({ plateIds }) => plateIds.every((id) => known.has(id)));
  return pairs.length === sheet.fit.pairs.length ? sheet : { ...sheet, fit: { ...sheet.fit, pairs } };
}

/** A special plate of plates that are all gone takes everything that prints. */
function withSpecialsOn(sheet: JobSheet, known: ReadonlySet<string>): JobSheet {
  const isWhole = ({ special }: Plate) => !special?.over || special.over.every((id) => known.has(id));
  if (sheet.plates.every(isWhole)) return sheet;
  const plates = sheet.plates.map((plate): Plate => {
    if (isWhole(plate)) return plate;
    const over = plate.special!.over!.filter((id) => known.has(id));
    return { ...plate, special: { ...plate.special!, over: over.length > 0 ? over : null } };
  });
  return { ...sheet, plates };
}

function withTextureOn(sheet: JobSheet, known: ReadonlySet<string>): JobSheet {
  const { texture } = sheet;
  if (!texture || texture.spared.every((id) => known.has(id))) return sheet;
  return { ...sheet, texture: { ...texture, spared: texture.spared.filter((id) => known.has(id)) } };
}

type SpecialPlace = 'first' | 'on base' | 'wet' | 'last';

/** Where a special plate prints: before the inks, on the flashed base, on wet inks, or behind a flash after all. Common practice, no source. */
const SPECIAL_PLACES: Readonly<Record<SpecialKind, SpecialPlace>> = {
  discharge: 'first',
  blocker: 'first',
  hit: 'on base',
  halftone: 'on base',
  thin: 'wet',
  clear: 'last',
  puff: 'last',
  adhesive: 'last',
};

/** What prints below the inks is flashed before them; what prints on top of them comes behind a flash, unless it is laid on wet ink. */
function withSpecial(
  run: readonly Station[],
  screen: Station,
  place: SpecialPlace,
  { plates }: Pick<JobSheet, 'plates'>,
): Station[] {
  if (place === 'first') return [screen, { kind: 'flash' }, ...run];
  const isOf = (role: Plate['role'], station: Station) =>
    station.kind === 'screen' && plates.some(({ id, role: own }) => id === station.plateId && own === role);
  if (place === 'on base') {
    const base = run.findIndex((station) => isOf('underbase', station));
    const at = base < 0 ? 0 : base + (run[base + 1]?.kind === 'flash' ? 2 : 1);
    return [...run.slice(0, at), screen, { kind: 'flash' }, ...run.slice(at)];
  }
  if (place === 'wet') {
    const at = run.findLastIndex((station) => isOf('colour', station)) + 1;
    return [...run.slice(0, at), screen, ...run.slice(at)];
  }
  const isFlashed = run.at(-1)?.kind === 'flash' || run.length === 0;
  return [...run, ...(isFlashed ? [] : [{ kind: 'flash' as const }]), screen];
}

/**
 * A sheet whose run and plates agree again after plates were added or taken away: an underbase goes first and is flashed, a
 * highlight goes last, another colour before the highlights. As long as nobody changed the order, films are numbered along it.
 */
export function alignRun(given: JobSheet): JobSheet {
  const sheet = withoutLost(given);
  let run = withoutGone(sheet.run, new Set(sheet.plates.map((plate) => plate.id)));
  const known = new Set(firstPasses(run));
  const added = sheet.plates.filter((plate) => !known.has(plate.id));
  if (known.size === 0) run = proposeRun(added);
  else {
    const highlights = new Set(
      sheet.plates.filter((plate) => plate.role === 'highlight').map((plate) => plate.id),
    );
    for (const plate of added) {
      const screen: Station = { kind: 'screen', plateId: plate.id };
      if (plate.special) run = withSpecial(run, screen, SPECIAL_PLACES[plate.special.kind], sheet);
      else if (plate.role === 'underbase') run = [screen, { kind: 'flash' }, ...run];
      else if (plate.role === 'highlight') run = [...run, screen];
      else {
        let at = run.findIndex((each) => each.kind === 'screen' && highlights.has(each.plateId));
        if (at < 0) at = run.length;
        while (at > 1 && run[at - 1]!.kind === 'flash') at--;
        run = [...run.slice(0, at), screen, ...run.slice(at)];
      }
    }
  }
  const aligned = withRun(sheet, run);
  const numbers = sheet.plates.length > 0 ? aligned.plates.filter((plate) => known.has(plate.id)) : [];
  const inOrder = numbers.every((plate, index) => index === 0 || plate.number > numbers[index - 1]!.number);
  const gone = firstPasses(sheet.run).length > known.size;
  return (added.length > 0 || gone) && inOrder ? renumber(aligned) : aligned;
}

/** The sheet with another run; the plates follow its order. Every plate must have its place in the run. */
export function withRun(sheet: JobSheet, run: readonly Station[]): JobSheet {
  const order = firstPasses(run);
  const plates = [...sheet.plates].sort((p, q) => order.indexOf(p.id) - order.indexOf(q.id));
  return { ...sheet, run: [...run], plates };
}

/** Numbers the films anew in print order. */
export function renumber(sheet: JobSheet): JobSheet {
  return { ...sheet, plates: sheet.plates.map((plate, index) => ({ ...plate, number: index + 1 })) };
}
