import type { JobSheet } from './jobSheet';
import { firstPasses } from './run';
import { LIMITS } from './vocabulary';

/** What is wrong between the parts of a sheet whose parts are right by themselves. */
export interface SheetFault {
  readonly path: (string | number)[];
  readonly message: string;
}

/** Everything that does not fit together, the first thing first. */
export function faultsOf(sheet: JobSheet): SheetFault[] {
  return [
    ...twice(sheet.plates, 'plates', 'plate'),
    ...twice(sheet.artworks, 'artworks', 'artwork'),
    ...twice(sheet.layers, 'layers', 'layer'),
    ...twice(sheet.garments, 'garments', 'garment'),
    ...layerFaults(sheet),
    ...garmentFaults(sheet),
    ...plateFaults(sheet),
    ...sheet.plates.flatMap((_, index) => sourceFaults(sheet, index)),
    ...sharedColours(sheet),
    ...textureFaults(sheet),
    ...pairFaults(sheet),
    ...specialFaults(sheet),
  ];
}

function twice(list: readonly { readonly id: string }[], field: keyof JobSheet, what: string): SheetFault[] {
  const ids = list.map(({ id }) => id);
  const second = ids.find((id, k) => ids.indexOf(id) < k);
  return second === undefined ? [] : [{ path: [field], message: `has the ${what} ${second} twice` }];
}

function specialFaults({ plates }: JobSheet): SheetFault[] {
  return plates.flatMap(({ role, special, sources }, k): SheetFault[] => {
    const path = ['plates', k, 'special'];
    const wrong = (message: string) => [{ path, message }];
    if ((role === 'special') !== (special !== null))
      return wrong('must be set for a special plate, and for no other');
    if (!special) return [];
    if (sources.length > 0) return wrong('prints colours of the artwork, which is for inks');
    if (special.kind === 'halftone') {
      const base = plates.find((plate) => plate.role === 'underbase');
      if (special.growMm !== 0) return wrong('must print what the base would: it cannot reach farther');
      if (base && base.screen.interlock !== null)
        return wrong('prints dots of a base whose dots divide cells with those of inks');
      if (plates.filter((plate) => plate.special?.kind === 'halftone').length > 1)
        return wrong('is a second white for the dots of one base');
    }
    const gone = special.over?.find(
      (id) => !plates.some((plate) => plate.id === id && plate.special === null),
    );
    return gone === undefined
      ? []
      : wrong(`lies at the plate "${gone}", which is not there or is special itself`);
  });
}

function pairFaults({ fit, plates, layers }: JobSheet): SheetFault[] {
  const seen = new Set<string>();
  return fit.pairs.flatMap(({ plateIds, grows, mm }, k): SheetFault[] => {
    const path = ['fit', 'pairs', k];
    const wrong = (message: string) => [{ path, message }];
    const gone = plateIds.find((id) => !plates.some((plate) => plate.id === id));
    if (gone !== undefined) return wrong(`names the plate "${gone}", which is not there`);
    if (plateIds[0] === plateIds[1]) return wrong('must be two plates');
    if (typeof grows === 'object' && !plateIds.includes(grows.plateId)) {
      return wrong(`lets "${grows.plateId}" grow, which is neither of the two`);
    }
    if (grows !== 'gap' && mm !== null && mm > LIMITS.maxChokeMm) {
      return wrong(`traps by more than ${LIMITS.maxChokeMm} mm`);
    }
    const key = [...plateIds].sort().join(' ');
    if (seen.has(key)) return wrong('sets two plates a second time');
    seen.add(key);
    if (layers.some(({ kind }) => kind === 'full-tone')) return wrong('cannot be set where plates are tones');
    const opens = grows === 'gap' || grows === 'over';
    return opens && layers.some(({ kind }) => kind === 'supplied')
      ? wrong('opens what plates of the file knock out: they can only be trapped')
      : [];
  });
}

function textureFaults({ texture, plates }: JobSheet): SheetFault[] {
  if (texture && (texture.kind === 'picture') !== (texture.picture !== null)) {
    return [{ path: ['texture', 'picture'], message: 'must be set for a picture, and for no other texture' }];
  }
  const gone = texture?.spared.find((spared) => !plates.some(({ id }) => id === spared));
  if (gone === undefined) return [];
  return [{ path: ['texture', 'spared'], message: `names the plate "${gone}", which is not there` }];
}

function layerFaults(sheet: JobSheet): SheetFault[] {
  return sheet.layers.flatMap((layer, k): SheetFault[] => {
    const path = ['layers', k];
    const faults: SheetFault[] = [];
    if (!sheet.artworks.some(({ id }) => id === layer.artworkId)) {
      faults.push({
        path: [...path, 'artworkId'],
        message: `names the artwork "${layer.artworkId}", which is not there`,
      });
    }
    const colours = layer.kind === 'flat' ? layer.colours : layer.kind === 'full-tone' ? layer.kept : [];
    if (new Set(colours.map(({ id }) => id)).size < colours.length) {
      faults.push({
        path: [...path, layer.kind === 'flat' ? 'colours' : 'kept'],
        message: 'has two colours of one id',
      });
    }
    if (
      layer.kind === 'full-tone' &&
      new Set(layer.kept.map(({ colour }) => colour)).size < layer.kept.length
    ) {
      faults.push({ path: [...path, 'kept'], message: 'keeps one colour twice' });
    }
    for (const key of ['spreadMm', 'trapMm', 'thickenMm'] as const) {
      // Plates of a file have edges, which can be trapped and spread.
      const isSet = sheet.fit[key] > 0 && !(layer.kind === 'supplied' && key !== 'thickenMm');
      if (layer.kind !== 'flat' && isSet) {
        faults.push({ path: ['fit', key], message: 'must be 0 where plates are tones' });
      }
    }
    return faults;
  });
}

function garmentFaults({ garments, plates, layers }: JobSheet): SheetFault[] {
  // Films that are found for several garments together may have a plate for another one alone.
  const together = layers.some((layer) => layer.kind === 'full-tone' && layer.together);
  return garments.flatMap(({ without }, k): SheetFault[] => {
    const path = ['garments', k, 'without'];
    const unknown = without.find((id) => !plates.some((plate) => plate.id === id));
    if (unknown !== undefined) return [{ path, message: `names the plate "${unknown}", which is not there` }];
    // What is not to print on it is no plate of the job.
    return k === 0 && without.length > 0 && !together
      ? [{ path, message: 'leaves out plates for the garment that they are made for' }]
      : [];
  });
}

function plateFaults({ plates, run }: JobSheet): SheetFault[] {
  const faults: SheetFault[] = [];
  const tell = (path: string, message: string) => faults.push({ path: [path], message });
  if (new Set(plates.map(({ number }) => number)).size < plates.length) {
    tell('plates', 'has two plates with one number');
  }
  if (firstPasses(run).join() !== plates.map(({ id }) => id).join()) {
    tell('run', 'does not print the plates in their order');
  }
  for (const plate of plates) {
    const { interlock, lpi, angleDeg } = plate.screen;
    if (interlock === null) continue;
    const first = plates.find((each) => each.screen.interlock === interlock)!;
    if (first.screen.lpi !== lpi || first.screen.angleDeg !== angleDeg) {
      tell(
        'plates',
        `has plates that interlock (${first.id} and ${plate.id}) but differ in frequency or angle`,
      );
    }
  }
  if (plates.filter(({ role }) => role === 'underbase').length > 1) tell('plates', 'has two underbases');
  return faults;
}

function sourceFaults({ layers, plates }: JobSheet, index: number): SheetFault[] {
  const { role, sources } = plates[index]!;
  const faults = sources.flatMap((source, k): SheetFault[] => {
    const path = ['plates', index, 'sources', k];
    const layer = layers.find(({ id }) => id === source.layerId);
    if (!layer) return [{ path, message: `names the layer "${source.layerId}", which is not there` }];
    if (source.kind === 'tones') {
      return layer.kind === 'full-tone'
        ? []
        : [{ path, message: 'prints tones of a layer that is flat colours' }];
    }
    if (source.kind === 'channel') {
      return layer.kind === 'supplied'
        ? []
        : [{ path, message: 'prints a plate of a file whose colours are separated' }];
    }
    if (layer.kind === 'supplied') {
      return [{ path, message: 'prints flat colours of a layer that is plates of a file' }];
    }
    if (role === 'underbase' && layer.kind === 'full-tone') {
      return [{ path, message: 'prints flat colours through an underbase, which has tones of its own' }];
    }
    const colours = layer.kind === 'flat' ? layer.colours : layer.kept.filter(({ as }) => as === 'ink');
    const unknown = source.colours.find(({ colourId }) => !colours.some(({ id }) => id === colourId));
    if (unknown) {
      const what = layer.kind === 'flat' ? 'not a colour of its layer' : 'none that its layer keeps solid';
      return [{ path, message: `names the colour "${unknown.colourId}", which is ${what}` }];
    }
    return [];
  });
  const missing = layers.find(
    ({ id, kind }) =>
      kind === 'full-tone' &&
      role !== 'special' &&
      !sources.some((source) => source.kind === 'tones' && source.layerId === id),
  );
  if (missing) {
    faults.push({
      path: ['plates', index, 'sources'],
      message: `has no part of the tones of the layer "${missing.id}"`,
    });
  }
  const unfed = layers.find(
    ({ id, kind }) =>
      kind === 'supplied' &&
      // A base that the file has not is made of what prints on it.
      role !== 'special' &&
      role !== 'underbase' &&
      sources.filter((source) => source.kind === 'channel' && source.layerId === id).length !== 1,
  );
  if (unfed) {
    faults.push({
      path: ['plates', index, 'sources'],
      message: `must be one plate of the file of the layer "${unfed.id}"`,
    });
  }
  return faults;
}

/** Colours that more than one plate would print: how they would share it is not known yet. */
function sharedColours({ plates }: JobSheet): SheetFault[] {
  const known = new Set<string>();
  return plates.flatMap(({ sources }, index): SheetFault[] =>
    sources.flatMap((source, k) =>
      (source.kind === 'colours' ? source.colours : []).flatMap(({ colourId }) => {
        const key = `${source.layerId} ${colourId}`;
        const isShared = known.has(key);
        known.add(key);
        const path = ['plates', index, 'sources', k];
        return isShared
          ? [{ path, message: `prints the colour "${colourId}", which another plate prints already` }]
          : [];
      }),
    ),
  );
}
