import { cellPlaces, nestPlaces } from '../separation';
import { type JobSheet, type Plate, isSimulated, passes } from '../sheet';
import type { Finding } from './findings';

/** What of a job's screens and run its tones were not found for: they print otherwise than they were meant to. */
export function checkTones(sheet: JobSheet): Finding[] {
  if (!isSimulated(sheet)) return [];
  const findings: Finding[] = [];
  const names = (plates: JobSheet['plates']) => plates.map(({ ink }) => ink.name).join(', ');
  const cells = cellPlaces(sheet.plates);
  const late = sheet.plates.filter(
    ({ id, role, screen }) => role === 'underbase' && screen.interlock !== null && !cells.has(id),
  );
  if (late.length > 0) {
    findings.push({
      code: 'tones-late-base',
      severity: 'severe',
      step: 'plates',
      message: `${names(late)} interlocks with inks that print before it; their tones were found for a base that lies under none of them.`,
      remedy: 'Let the base print first.',
      plateId: late[0]!.id,
    });
  }
  for (const plates of onOneGrid(sheet.plates)) {
    findings.push({
      code: 'tones-on-one-grid',
      severity: 'severe',
      step: 'dots',
      message: `Dots of ${names(plates)} lie on each other on one grid in different shapes; their tones were found for dots that lie over each other by chance.`,
      remedy: 'Give them one shape, or set them dispersed, 30° apart or interlocked.',
      plateId: plates[0]!.id,
    });
  }
  for (const plate of sheet.plates.filter(({ screen }) => screen.screening === 'solid')) {
    findings.push({
      code: 'tones-without-dots',
      severity: 'severe',
      step: 'dots',
      message: `${plate.ink.name} prints without dots: its tones below a half are lost, and the others are solid.`,
      remedy: 'Give it dots.',
      plateId: plate.id,
    });
  }
  const printed = passes(sheet);
  const twice = sheet.plates.filter(({ id }) => printed.filter((plate) => plate.id === id).length > 1);
  if (twice.length > 0) {
    findings.push({
      code: 'tones-printed-twice',
      severity: 'notice',
      step: 'plates',
      message: `The run prints ${names(twice)} more than once; tones were found for one pass.`,
      remedy: 'Lighten them by a tone curve, or let them print once.',
      plateId: twice[0]!.id,
    });
  }
  return findings;
}

/** Plates whose dots lie on the same grid without dividing its cells, and not all in each other, two and more of each. */
function onOneGrid(plates: readonly Plate[]): Plate[][] {
  const grids = plates.filter(({ screen }) => screen.screening === 'grid' && screen.interlock === null);
  const gridOf = ({ screen }: Plate) => `${screen.lpi} ${((screen.angleDeg % 90) + 90) % 90}`;
  const known = [...new Set(grids.map(gridOf))];
  return known
    .map((grid) => grids.filter((plate) => gridOf(plate) === grid))
    .filter((each) => {
      const nests = nestPlaces(each);
      return (
        each.length > 1 && !each.every(({ id }) => nests.get(id) === nests.get(each[0]!.id) && nests.has(id))
      );
    });
}
