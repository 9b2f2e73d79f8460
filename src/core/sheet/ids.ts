/** The ids that a new job's artwork and layer have. */
export const FIRST_ARTWORK = 'a1';
export const FIRST_LAYER = 'l1';

/** The id of the colour of a number. */
export const colourId = (number: number): string => `c${number}`;

/** The id of the garment of a number. */
export const garmentId = (number: number): string => `g${number}`;

type Named = readonly { readonly id: string }[];

function freeId(known: Named, idOf: (number: number) => string): string {
  const taken = new Set(known.map(({ id }) => id));
  let number = known.length + 1;
  while (taken.has(idOf(number))) number++;
  return idOf(number);
}

/** An id that no colour of a palette has. */
export const freeColourId = (palette: Named): string => freeId(palette, colourId);

/** An id that no garment of a job has. */
export const freeGarmentId = (garments: Named): string => freeId(garments, garmentId);
