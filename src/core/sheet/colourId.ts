/** The id of the colour of a number. */
export const colourId = (number: number): string => `c${number}`;

/** An id that no colour of a palette has. */
export function freeColourId(palette: readonly { readonly id: string }[]): string {
  const taken = new Set(palette.map(({ id }) => id));
  let number = palette.length + 1;
  while (taken.has(colourId(number))) number++;
  return colourId(number);
}
