import { formatLength, trimNumber } from '../units';
import { effectiveChokeMm } from './choke';
import { backgroundOf } from './background';
import { describeKept } from './describeKept';
import { garmentOf, otherGarments } from './garments';
import type { JobGarment, JobSheet, Plate } from './jobSheet';
import type { FullToneLayer, Patch } from './layerSchema';
import { type PaletteColour, artworkOf, fullToneLayer, layerOf, methodOf, paletteOf } from './layers';
import { patchesOf, sharesOf } from './patches';
import type { Texture } from './textureSchema';

const METHOD_WORDS: Readonly<Record<ReturnType<typeof methodOf>, string>> = {
  spot: 'separated by spot colours',
  simulated: 'separated by tones',
  supplied: 'plates of the file',
};

function same(a: unknown, b: unknown): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

const percent = (share: number) => `${trimNumber(share * 100, 0)} %`;
const mm = (length: number) => formatLength(length, 'mm');
const inches = (length: number) => formatLength(length, 'in');

/** What changed, from what to what. */
const step = (what: string, from: string, to: string) => `${what} from ${from} to ${to}`;

/** What a change of a sheet was about, in a few words, from what to what: the first thing that differs. */
export function describeChange(before: JobSheet, after: JobSheet): string {
  if (before.name !== after.name) return step('name', before.name, after.name);
  const [had, has] = [artworkOf(before), artworkOf(after)];
  if (had.sha256 !== has.sha256) {
    return had.fileName === has.fileName
      ? `revised ${has.fileName}`
      : step('artwork', had.fileName, has.fileName);
  }
  if (!same(before.print, after.print)) {
    return step('print width', inches(before.print.widthMm), inches(after.print.widthMm));
  }
  const [worn, wears] = [garmentOf(before), garmentOf(after)];
  if (worn.name !== wears.name || worn.colour !== wears.colour) {
    return step('garment', worn.name, wears.name);
  }
  const [layer, tones] = [fullToneLayer(before), fullToneLayer(after)];
  if (layer && tones && layer.together !== tones.together) {
    return tones.together ? 'films for all garments together' : `films for ${wears.name} alone`;
  }
  const [old, now] = [otherGarments(before), otherGarments(after)];
  if (!same(old, now)) {
    const added = now.find((each) => !old.some((other) => same(other, each)));
    const gone = old.find((each) => !now.some((other) => same(other, each)));
    if (added && !gone) return `${added.name} among the garments`;
    if (added && gone && added.id === gone.id) return describeWorn(gone, added, after);
    return gone && !added ? `${gone.name} not among the garments` : 'other garments';
  }
  if (methodOf(before) !== methodOf(after)) return METHOD_WORDS[methodOf(after)];
  if (!same(backgroundOf(before), backgroundOf(after))) {
    return step('background', dropOf(before), dropOf(after));
  }
  if (!same(layerOf(before).mask, layerOf(after).mask))
    return step('part of the artwork', partOf(before), partOf(after));
  // What is kept on an ink pins the ink, and may bring it along; other inks move what is kept.
  const isKeeping = layer && tones && (!same(layer.kept, tones.kept) || samePlates(before, after));
  const kept = isKeeping ? describeKept(before, after) : null;
  if (kept) return kept;
  if (layer && tones && !same(layer, tones)) return describeTones(layer, tones);
  if (before.plates.length !== after.plates.length) {
    const added = after.plates.find(({ id }) => !before.plates.some((each) => each.id === id));
    const gone = before.plates.find(({ id }) => !after.plates.some((each) => each.id === id));
    const which =
      added && !gone ? `, with ${added.ink.name}` : gone && !added ? `, without ${gone.ink.name}` : '';
    return `${step('plates', String(before.plates.length), String(after.plates.length))}${which}`;
  }
  if (!same(before.run, after.run)) return 'order of the run';
  if (!same(paletteOf(before), paletteOf(after))) return describePalette(before, after);
  for (const plate of after.plates) {
    const old = before.plates.find((each) => each.id === plate.id);
    if (!old) return `plate ${plate.ink.name}`;
    if (!same(old, plate)) return describePlate(old, plate);
  }
  if (!same(before.press, after.press)) return step('press', before.press.name, after.press.name);
  if (!same(before.fit, after.fit)) return describeFit(before, after);
  if (!same(before.texture, after.texture)) return describeTexture(before, after);
  if (!same(before.limits, after.limits)) return 'limits of the check';
  if (!same(before.film, after.film)) return describeFilm(before.film, after.film);
  return 'no change';
}

function describeTexture({ texture: was }: JobSheet, { texture: is, plates }: JobSheet): string {
  if (!was || !is) return is ? `worn texture: ${is.kind}` : 'no worn texture';
  if (was.kind !== is.kind || was.picture?.sha256 !== is.picture?.sha256) {
    const nameOf = ({ kind, picture }: Texture) => picture?.fileName ?? kind;
    return step('worn texture', nameOf(was), nameOf(is));
  }
  if (was.picture?.light !== is.picture?.light)
    return is.picture?.light ? 'light parts worn' : 'dark parts worn';
  for (const key of ['strength', 'contrast', 'scale'] as const) {
    if (was[key] !== is[key]) return step(`${key} of the texture`, percent(was[key]), percent(is[key]));
  }
  if (was.angleDeg !== is.angleDeg || was.secondDeg !== is.secondDeg) return 'angle of the texture';
  const spared = is.spared.find((id) => !was.spared.includes(id));
  const worn = was.spared.find((id) => !is.spared.includes(id));
  const nameOf = (plateId: string) => plates.find(({ id }) => id === plateId)?.ink.name ?? plateId;
  if (spared !== undefined) return `${nameOf(spared)} not worn`;
  return worn === undefined ? 'texture moved' : `${nameOf(worn)} worn`;
}

function samePlates(before: JobSheet, after: JobSheet): boolean {
  return same(
    before.plates.map(({ id }) => id),
    after.plates.map(({ id }) => id),
  );
}

/** What a change of tones was about, beside the plates. */
function describeTones(was: FullToneLayer, is: FullToneLayer): string {
  const one = (names: readonly string[], others: readonly string[]) =>
    names.find((name) => !others.includes(name));
  const banned = one(is.banned, was.banned);
  if (banned !== undefined) return `${banned} never proposed`;
  const pinned = one(is.pinned, was.pinned);
  if (pinned !== undefined) return `${pinned} in every proposal`;
  const free = one([...was.banned, ...was.pinned], [...is.banned, ...is.pinned]);
  if (free !== undefined) return `${free} free in proposals`;
  if (was.baseWish !== is.baseWish)
    return step('wish for a base', percent(was.baseWish), percent(is.baseWish));
  if (was.leaveOutLone !== is.leaveOutLone) return is.leaveOutLone ? 'no lone dots' : 'lone dots kept';
  if (!same(was.process, is.process)) {
    if (!is.process || !was.process) return is.process ? 'process colours' : 'no process colours';
    return step('ink limit', percent(was.process.inkLimit), percent(is.process.inkLimit));
  }
  const [before, after] = [was.adjust, is.adjust];
  if (!same(before, after)) {
    for (const what of ['contrast', 'saturation'] as const) {
      const [from, to] = [before?.[what] ?? 0, after?.[what] ?? 0];
      if (from !== to) return step(`${what} of the artwork`, percent(from), percent(to));
    }
    if (!same(before?.ends ?? null, after?.ends ?? null)) {
      return after?.ends ? 'black and white fitted to the print' : 'black and white as the artwork has them';
    }
    return 'lightness of the artwork';
  }
  return 'tones';
}

/** What a change of a plate's patches was about. */
function describePatches(was: readonly Patch[], is: readonly Patch[], name: string): string {
  if (is.length > was.length) return `patch of ${name}`;
  if (is.length < was.length) return `patch of ${name} taken away`;
  const k = is.findIndex((patch, index) => !same(patch, was[index]));
  const [old, now] = [was[k]!, is[k]!];
  const what = `patch ${k + 1} of ${name}`;
  if (old.on !== now.on) return now.on ? `with ${what}` : `without ${what}`;
  if (old.act !== now.act) return step(what, old.act, now.act);
  if (old.amount !== now.amount) return step(what, percent(old.amount), percent(now.amount));
  return step(`soft border of ${what}`, mm(old.featherMm), mm(now.featherMm));
}

function partOf(sheet: JobSheet): string {
  const { mask } = layerOf(sheet);
  return mask ? `${mask.length} corners` : 'all';
}

function describeWorn(was: JobGarment, is: JobGarment, { plates }: JobSheet): string {
  const nameOf = (id: string) => plates.find((plate) => plate.id === id)?.ink.name ?? id;
  const out = is.without.find((id) => !was.without.includes(id));
  const back = was.without.find((id) => !is.without.includes(id));
  if (out !== undefined) return `${is.name} without ${nameOf(out)}`;
  return back === undefined ? 'other garments' : `${is.name} with ${nameOf(back)} again`;
}

const DROPS = { keep: 'printed', outside: 'left out round the design', everywhere: 'left out' } as const;

function dropOf(sheet: JobSheet): string {
  const background = backgroundOf(sheet);
  return background ? DROPS[background.drop] : 'none';
}

function describePalette(before: JobSheet, after: JobSheet): string {
  const [old, now] = [paletteOf(before), paletteOf(after)];
  if (old.length !== now.length) {
    const added = now.find((each) => !old.some((other) => other.colour === each.colour && !each.within));
    if (now.length > old.length) return added ? `colour ${added.colour} added` : 'part of a colour by itself';
    const gone = old.find((each) => !now.some((other) => other.colour === each.colour));
    return gone ? `colour ${gone.colour} taken out` : 'part of a colour with the rest again';
  }
  const k = now.findIndex((entry, index) => !same(entry, old[index]));
  const [was, is] = [old[k]!, now[k]!];
  if (was.plateId !== is.plateId) return step(is.colour, inkOf(before, was), inkOf(after, is));
  if (was.tint !== is.tint) return step(`tint of ${is.colour}`, percent(was.tint), percent(is.tint));
  if (was.closeness !== is.closeness) {
    const closeness = (entry: PaletteColour) => trimNumber(entry.closeness ?? layerOf(after).purity, 1);
    return step(`closeness of ${is.colour}`, closeness(was), closeness(is));
  }
  if (was.base !== is.base) {
    const word = (base: number | null) => (base === null ? 'as its ink' : percent(base));
    return step(`base under ${is.colour}`, word(was.base), word(is.base));
  }
  return 'colours and their inks';
}

function inkOf({ plates }: JobSheet, { plateId }: PaletteColour): string {
  return plates.find(({ id }) => id === plateId)?.ink.name ?? 'the garment';
}

function describePlate(old: Plate, plate: Plate): string {
  const { name } = plate.ink;
  if (old.ink.name !== name) return step('ink', old.ink.name, name);
  if (old.ink.colour !== plate.ink.colour) return step(`colour of ${name}`, old.ink.colour, plate.ink.colour);
  if (old.ink.opacity !== plate.ink.opacity) {
    return step(`opacity of ${name}`, percent(old.ink.opacity), percent(plate.ink.opacity));
  }
  if (old.role !== plate.role) return step(`role of ${name}`, old.role, plate.role);
  if (old.baseStrength !== plate.baseStrength) {
    return step(`base under ${name}`, percent(old.baseStrength), percent(plate.baseStrength));
  }
  if (old.mesh !== plate.mesh) return step(`mesh of ${name}`, String(old.mesh), String(plate.mesh));
  if (old.special?.growMm !== plate.special?.growMm) {
    return step(`reach of ${name}`, mm(old.special?.growMm ?? 0), mm(plate.special?.growMm ?? 0));
  }
  if (!same(old.special, plate.special)) return `what ${name} lies at`;
  const [had, has] = [patchesOf(old), patchesOf(plate)];
  if (!same(had, has)) return describePatches(had, has, name);
  if (!same(sharesOf(old), sharesOf(plate))) return `shares of other plates in ${name}`;
  if (!same(old.stages, plate.stages)) return `tone curve of ${name}`;
  const [was, is] = [old.screen, plate.screen];
  if (was.screening !== is.screening) return step(`dots of ${name}`, was.screening, is.screening);
  if (was.lpi !== is.lpi)
    return step(`frequency of ${name}`, trimNumber(was.lpi, 1), `${trimNumber(is.lpi, 1)} lpi`);
  if (was.angleDeg !== is.angleDeg) {
    return step(`angle of ${name}`, `${trimNumber(was.angleDeg, 1)}°`, `${trimNumber(is.angleDeg, 1)}°`);
  }
  if (was.gain !== is.gain) return step(`gain of ${name}`, percent(was.gain), percent(is.gain));
  return same(was, is) ? `plate ${name}` : `dots of ${name}`;
}

function describeFit(before: JobSheet, after: JobSheet): string {
  const [was, is] = [before.fit, after.fit];
  if (effectiveChokeMm(before) !== effectiveChokeMm(after)) {
    return step('choke', mm(effectiveChokeMm(before)), mm(effectiveChokeMm(after)));
  }
  for (const [what, key] of FIT_LENGTHS)
    if (was[key] !== is[key]) return step(what, mm(was[key]), mm(is[key]));
  if (!same(was.lightBase, is.lightBase)) {
    return is.lightBase ? 'base by lightness' : 'base by what the inks want';
  }
  const differs = (of: typeof was, from: typeof is) =>
    from.pairs.find((pair) => !of.pairs.some((each) => same(each, pair)));
  const pair = differs(was, is) ?? differs(is, was);
  if (!pair) return 'fit';
  const names = pair.plateIds.map((id) => after.plates.find((plate) => plate.id === id)?.ink.name ?? id);
  return `trap of ${names.join(' and ')}`;
}

const FIT_LENGTHS = [
  ['spread', 'spreadMm'],
  ['trap', 'trapMm'],
  ['guard of openings', 'guardMm'],
  ['choke of the highlight white', 'highlightChokeMm'],
  ['base under dark inks', 'underDarkMm'],
  ['base kept under strokes', 'keepMm'],
  ['gaps closed', 'closeGapsMm'],
  ['lines at least', 'thickenMm'],
] as const;

function describeFilm(before: JobSheet['film'], after: JobSheet['film']): string {
  const differs = (...names: (keyof JobSheet['film'])[]) =>
    names.some((name) => !same(before[name], after[name]));
  if (differs('printer', 'dpi')) return step('films', `${before.dpi}`, `${after.dpi} dpi`);
  if (differs('printerTones')) return after.printerTones ? "film printer's curve" : "no film printer's curve";
  if (differs('sheetWidthMm', 'sheetHeightMm')) return step('film sheet', sizeOf(before), sizeOf(after));
  if (differs('turned')) return after.turned ? 'films turned' : 'films upright';
  if (differs('gang')) return 'sheet of ganged films';
  if (differs('printAtMm', 'collar')) return 'place on the film';
  if (differs('negative')) return after.negative ? 'negative films' : 'positive films';
  if (differs('emulsion')) return step('emulsion', before.emulsion, after.emulsion);
  if (differs('stretch')) return 'films stretched';
  if (differs('marks')) return 'marks of the films';
  if (differs('label', 'labelFields', 'density', 'date')) return 'labels of the films';
  return 'files of the films';
}

function sizeOf({ sheetWidthMm, sheetHeightMm }: JobSheet['film']): string {
  return sheetHeightMm === null
    ? `a roll of ${inches(sheetWidthMm)}`
    : `${inches(sheetWidthMm)} x ${inches(sheetHeightMm)}`;
}
