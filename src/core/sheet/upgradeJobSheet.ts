import { DEFAULT_FILM, DEFAULT_LIMITS, DEFAULT_MARKS } from './presets';
import { FIRST_ARTWORK, FIRST_LAYER, colourId, garmentId } from './ids';
import { proposeRun } from './run';

type Json = Record<string, unknown>;

function isObject(value: unknown): value is Json {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** Version 1 had no run, no numbers of its own, one garment and one closeness. */
function fromVersion1(sheet: Json): Json {
  const list = (value: unknown) => (Array.isArray(value) ? value.filter(isObject) : []);
  const plates = list(sheet.plates).map((plate, index): Json => {
    const screen = {
      gain: 0,
      holdSmallest: false,
      largest: 1,
      ...(isObject(plate.screen) ? plate.screen : {}),
    };
    return { number: index + 1, ...plate, screen };
  });
  const fit = isObject(sheet.fit) ? sheet.fit : {};
  const film = isObject(sheet.film) ? sheet.film : {};
  return {
    ...sheet,
    version: 2,
    otherGarments: [],
    plates,
    run: proposeRun(plates as unknown as Parameters<typeof proposeRun>[0]),
    palette: list(sheet.palette).map((entry) => ({ closeness: null, within: null, ...entry })),
    film: { negative: false, emulsion: 'up', marks: true, label: true, ...film },
    fit: { ...fit, press: { heads: 10, flashes: 2, ...(isObject(fit.press) ? fit.press : {}) } },
  };
}

/** Version 2 had dots on grids only, one kind of marks, and always one PDF and TIFF files. */
function fromVersion2(sheet: Json): Json {
  const plates = (Array.isArray(sheet.plates) ? sheet.plates : []).map((plate: unknown): unknown => {
    if (!isObject(plate)) return plate;
    const added = { screening: 'grid', ratio: 1.175, dotUm: null, measured: null };
    return {
      withMarks: true,
      ...plate,
      screen: { ...added, ...(isObject(plate.screen) ? plate.screen : {}) },
    };
  });
  const film = isObject(sheet.film) ? sheet.film : {};
  const { collar, stretch, labelFields, printerTones, formats, names } = DEFAULT_FILM;
  return {
    ...sheet,
    version: 3,
    plates,
    film: {
      collar,
      stretch,
      labelFields,
      printerTones,
      formats,
      names,
      ...film,
      marks: { ...DEFAULT_MARKS, register: film.marks !== false },
    },
  };
}

/** In version 3 every plate had dots of its own. */
function fromVersion3(sheet: Json): Json {
  const plates = (Array.isArray(sheet.plates) ? sheet.plates : []).map((plate: unknown): unknown =>
    isObject(plate) && isObject(plate.screen)
      ? { ...plate, screen: { interlock: null, ...plate.screen } }
      : plate,
  );
  return { ...sheet, version: 4, plates };
}

/** Version 4 knew sheets only, each with one film, and none turned. */
function fromVersion4(sheet: Json): Json {
  const film = isObject(sheet.film) ? sheet.film : {};
  const { printer, turned, gang, density } = DEFAULT_FILM;
  const { bleedMm, pallet } = DEFAULT_MARKS;
  const marks = { bleedMm, pallet, ...(isObject(film.marks) ? film.marks : {}) };
  return { ...sheet, version: 5, film: { printer, turned, gang, density, ...film, marks } };
}

/** Version 5 dropped a background outside of the design or not at all, and let any two colours explain a transition. */
function fromVersion5(sheet: Json): Json {
  const background = isObject(sheet.background)
    ? {
        colour: sheet.background.colour,
        drop: sheet.background.dropped === true ? 'outside' : 'keep',
        open: false,
      }
    : sheet.background;
  const print = isObject(sheet.print) ? { chosen: false, ...sheet.print } : sheet.print;
  const fit = isObject(sheet.fit) ? { ...sheet.fit, closeGapsMm: 0 } : sheet.fit;
  return { ...sheet, version: 6, background, print, fit, transitions: null };
}

/** In version 6 nothing was done to the tones of a plate. */
function fromVersion6(sheet: Json): Json {
  const plates = (Array.isArray(sheet.plates) ? sheet.plates : []).map((plate: unknown): unknown =>
    isObject(plate) ? { stages: [], ...plate } : plate,
  );
  return { ...sheet, version: 7, plates };
}

/** Version 7 knew spot colours only. */
function fromVersion7(sheet: Json): Json {
  return { ...sheet, version: 8, separation: { method: 'spot' } };
}

/** In version 8 colours were told by their place. */
function fromVersion8(sheet: Json): Json {
  const palette = (Array.isArray(sheet.palette) ? sheet.palette : []).map((entry: unknown, k): unknown =>
    isObject(entry) ? { id: colourId(k + 1), ...entry } : entry,
  );
  return { ...sheet, version: 9, palette };
}

/** Version 9 had one artwork, separated in one way, and each colour named its plate. */
function fromVersion9(sheet: Json): Json {
  const { artwork, garment, otherGarments, background, separation, palette, transitions, purity, ...rest } =
    sheet;
  const list = (value: unknown): Json[] => (Array.isArray(value) ? value.filter(isObject) : []);
  const { press, ...fit } = isObject(sheet.fit) ? sheet.fit : {};
  const parts = { id: FIRST_LAYER, artworkId: FIRST_ARTWORK, mask: null, background, purity };
  const isTones = isObject(separation) && separation.method === 'simulated';
  const colours = list(palette);
  const layer = isTones
    ? {
        ...parts,
        kind: 'full-tone',
        solvedFor: separation.solvedFor,
        together: false,
        adjust: null,
        pinned: [],
        banned: [],
      }
    : {
        ...parts,
        kind: 'flat',
        colours: colours.map(({ plateId: _plate, tint: _tint, ...colour }) => colour),
        transitions,
      };
  const sourcesOf = (plate: Json): Json[] => {
    if (isTones) return [{ kind: 'tones', layerId: FIRST_LAYER, patches: [] }];
    const own = colours.filter(({ plateId }) => plateId === plate.id);
    const tints = own.map(({ id, tint }) => ({ colourId: id, tint }));
    return tints.length > 0 ? [{ kind: 'colours', layerId: FIRST_LAYER, colours: tints }] : [];
  };
  return {
    ...rest,
    version: 10,
    artworks: [isObject(artwork) ? { id: FIRST_ARTWORK, ...artwork } : artwork],
    garments: [garment, ...list(otherGarments)].map((each, k) =>
      isObject(each) ? { id: garmentId(k + 1), without: [], ...each } : each,
    ),
    layers: [layer],
    plates: list(sheet.plates).map((plate) => ({ ...plate, sources: sourcesOf(plate) })),
    press,
    fit,
  };
}

/** Version 10 had no special plates, and checks whose limits nobody could set; its earlier sheets neither traps nor a texture. */
function fromVersion10(sheet: Json): Json {
  const plates = (Array.isArray(sheet.plates) ? sheet.plates : []).map((plate: unknown): unknown =>
    isObject(plate) ? { special: null, ...plate } : plate,
  );
  const fit = isObject(sheet.fit) ? { trapMm: 0, pairs: [], guardMm: 0, ...sheet.fit } : sheet.fit;
  return { texture: null, limits: DEFAULT_LIMITS, ...sheet, version: 11, plates, fit };
}

/** Version 11 knew no strength of base by colour, nothing that thickens lines, no parts beside gaps that are left clear, and no pictures as textures. */
function fromVersion11(sheet: Json): Json {
  const withBase = (colour: unknown): unknown => (isObject(colour) ? { base: null, ...colour } : colour);
  const layers = (Array.isArray(sheet.layers) ? sheet.layers : []).map((layer: unknown): unknown => {
    if (!isObject(layer)) return layer;
    const field = layer.kind === 'flat' ? 'colours' : 'kept';
    return Array.isArray(layer[field]) ? { ...layer, [field]: layer[field].map(withBase) } : layer;
  });
  const fit = isObject(sheet.fit)
    ? {
        thickenMm: 0,
        lightBase: null,
        ...sheet.fit,
        pairs: (Array.isArray(sheet.fit.pairs) ? sheet.fit.pairs : []).map((pair: unknown): unknown =>
          isObject(pair) ? { clearMm: 0, ...pair } : pair,
        ),
      }
    : sheet.fit;
  const texture = isObject(sheet.texture) ? { picture: null, ...sheet.texture } : sheet.texture;
  return { ...sheet, version: 12, layers, fit, texture };
}

const UPGRADES: readonly ((sheet: Json) => Json)[] = [
  fromVersion1,
  fromVersion2,
  fromVersion3,
  fromVersion4,
  fromVersion5,
  fromVersion6,
  fromVersion7,
  fromVersion8,
  fromVersion9,
  fromVersion10,
  fromVersion11,
];

/** A job sheet of an older version as one of the newest; anything else comes back as it is. */
export function upgradeJobSheet(document: unknown): unknown {
  if (!isObject(document) || document.format !== 'kerameus-job') return document;
  return UPGRADES.reduce((sheet, upgrade, k) => (sheet.version === k + 1 ? upgrade(sheet) : sheet), document);
}
