import type { CellPlace } from '../solving';
import type { Plate } from '../sheet';

/**
 * How plates of tones lie in the cells that they divide, by their ids: those whose dots interlock. A base that prints after others of its group lies under none, and is not of it.
 *
 * @param plates in print order.
 */
export function cellPlaces(plates: readonly Plate[]): ReadonlyMap<string, CellPlace> {
  const grids = plates.filter(({ screen }) => screen.screening === 'grid' && screen.interlock !== null);
  const places = new Map<string, CellPlace>();
  for (const { id, role, screen } of grids) {
    const group = screen.interlock!;
    const others = grids.filter((each) => each.screen.interlock === group);
    const under = role === 'underbase';
    if (others.length < 2 || (under && others[0]!.id !== id)) continue;
    places.set(id, { group, under });
  }
  return places;
}

/**
 * The plates of tones whose dots lie in each other because they have one grid, round one set of middles, by their ids: a number for each grid of two plates and more. Dots of other
 * shapes on the same grid are not of it.
 */
export function nestPlaces(plates: readonly Plate[]): ReadonlyMap<string, number> {
  const grids = plates.filter(({ screen }) => screen.screening === 'grid' && screen.interlock === null);
  const gridOf = ({ screen: { lpi, angleDeg, shape, ratio } }: Plate) =>
    // A turn by half leaves every shape as it is.
    JSON.stringify([lpi, ((angleDeg % 180) + 180) % 180, shape, ratio]);
  const known = [...new Set(grids.map(gridOf))].filter(
    (grid) => grids.filter((plate) => gridOf(plate) === grid).length > 1,
  );
  return new Map(
    grids.flatMap((plate) => {
      const nest = known.indexOf(gridOf(plate));
      return nest < 0 ? [] : [[plate.id, nest] as const];
    }),
  );
}
