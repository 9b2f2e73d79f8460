import { testSheet } from '../../../tests/testSheet';
import { planFilms } from './planFilms';
import { StripSums } from './stripPlanes';

test.each([
  ['above', -3],
  ['below', 2],
])(
  'a strip that lies %s the print, where its ink may have grown to, has no rows of the kept planes',
  (_where, beyond) => {
    const sheet = testSheet();
    // The kept planes have the film's own pixels.
    const film = { ...sheet.film, dpi: 300 };
    const plan = planFilms({ ...sheet, film, fit: { ...sheet.fit, spreadMm: 0.5 } });
    expect(plan.planeHeight).toBe(plan.grid.heightPx);
    const { grid, planeHeight } = plan;
    const y = beyond < 0 ? beyond : grid.heightPx + beyond;
    const { firstRow, rows, bytes, parts } = new StripSums(plan, { x: 0, y, width: 64, height: 3 }).finish();
    expect(rows).toBe(0);
    expect(firstRow).toBeGreaterThanOrEqual(0);
    expect(firstRow).toBeLessThanOrEqual(planeHeight);
    expect(bytes.every(({ length }) => length === 0)).toBe(true);
    expect(parts).toEqual([]);
  },
);
