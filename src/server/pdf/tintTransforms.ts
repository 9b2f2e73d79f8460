/** The inks of process colour, by the names that ISO 32000-1, 8.6.6.4 gives them. */
export const PROCESS_PLATES = ['Cyan', 'Magenta', 'Yellow', 'Black'] as const;

/** What a component of a colour space prints on: one plate, all plates, or none. */
type Component = { readonly plate: string } | 'all' | 'none';

/** What the numbers of a colour are: coverages of components, or lightness that becomes process ink. */
export type ColourKind = { readonly of: readonly Component[] } | 'gray' | 'rgb';

export const CMYK: ColourKind = { of: PROCESS_PLATES.map((plate) => ({ plate })) };

export function componentOf(name: string): Component {
  if (name === 'All') return 'all';
  return name === 'None' ? 'none' : { plate: name };
}

/** How many numbers a colour has. */
export function inputsOf(kind: ColourKind): number {
  if (kind === 'gray') return 1;
  return kind === 'rgb' ? 3 : kind.of.length;
}

const LARGER = '2 copy lt { exch } if pop';
/** Puts the largest of red, green and blue behind a copy of one of them. */
const beside = (down: number) => `${down} index 4 1 roll ${LARGER} ${LARGER}`;

/** A calculator function (ISO 32000-1, 7.10.5) from a colour to gray, 0..1: 0 where a plate prints solid. */
export function transformCode(kind: ColourKind, plate: string): string {
  if (kind === 'gray') return plate === 'Black' ? '{ }' : '{ pop 1 }';
  if (kind === 'rgb') {
    if (plate === 'Black') return `{ ${LARGER} ${LARGER} }`;
    const at = ['Cyan', 'Magenta', 'Yellow'].indexOf(plate);
    return at < 0 ? '{ pop pop pop 1 }' : `{ ${beside(2 - at)} exch sub 1 exch sub }`;
  }
  const count = kind.of.length;
  const at = kind.of.findIndex(
    (each) => each === 'all' || (typeof each === 'object' && each.plate === plate),
  );
  const pops = 'pop '.repeat(count);
  return at < 0 ? `{ ${pops}1 }` : `{ ${count - 1 - at} index 1 exch sub ${count + 1} 1 roll ${pops}}`;
}
