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

/** A job sheet of an older version as one of the newest; anything else comes back as it is. */
export function upgradeJobSheet(document: unknown): unknown {
  if (!isObject(document) || document.format !== 'kerameus-job') return document;
  return document.version === 1 ? fromVersion1(document) : document;
}
