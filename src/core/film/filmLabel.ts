import { mayHaveTone } from '../separation';
import { type JobSheet, LABEL_FIELDS, type Plate, SPECIAL_NAMES } from '../sheet';
import { MM_PER_INCH, trimNumber } from '../units';

/** The two lines of a film's label; `count` films belong to the set. */
export function labelLines(sheet: JobSheet, plate: Plate, count: number): [string, string] {
  const { print, film } = sheet;
  const special = plate.special ? SPECIAL_NAMES[plate.special.kind].toLowerCase() : '';
  const role = { underbase: 'underbase', colour: '', highlight: 'highlight', special }[plate.role];
  const { number } = plate;
  const isToned = plate.screen.screening === 'solid' || mayHaveTone(sheet, plate);
  const two = (value: number) => String(value).padStart(2, '0');
  // Numbers may have gaps once the order was changed; then the set is only counted.
  const gaps = sheet.plates.some((each) => each.number > count);
  const title = `${two(number)} ${gaps ? `(${count} films)` : `of ${two(count)}`}  ${plate.ink.name}`;
  const size = `${trimNumber(print.widthMm / MM_PER_INCH, 2)} x ${trimNumber(print.heightMm / MM_PER_INCH, 2)} in`;
  // What is usual goes without saying: the line is short of room.
  const turned = [film.negative ? 'negative' : '', film.emulsion === 'down' ? 'emulsion down' : ''];
  const not = sheet.garments.filter(({ without }) => without.includes(plate.id)).map(({ name }) => name);
  if (not.length > 0) turned.push(`not on ${not.join(', ')}`);
  const { x, y } = film.stretch;
  if (film.density !== null) turned.push(`black at least ${trimNumber(film.density, 1)} D`);
  if (x !== 0 || y !== 0) turned.push(`stretched ${trimNumber(x, 2)} ‰ x ${trimNumber(y, 2)} ‰`);
  const fields: Readonly<Record<JobSheet['film']['labelFields'][number], string>> = {
    job: sheet.name,
    role,
    size,
    screen: isToned ? describeScreen(plate) : 'solid',
    gain: isToned ? describeGain(plate) : '',
    mesh: `mesh ${plate.mesh}`,
    date: film.date,
  };
  const told = LABEL_FIELDS.filter((field) => film.labelFields.includes(field) && field !== 'date');
  const date = film.labelFields.includes('date') ? [fields.date] : [];
  const parts = [...told.map((field) => fields[field]), ...turned, ...date];
  return [title, parts.filter((part) => part !== '').join('  ·  ')];
}

/** A plate's screen in words, as labels and the press sheet tell it. */
export function describeScreen({ screen }: Pick<Plate, 'screen'>): string {
  if (screen.screening === 'solid') return 'solid only';
  if (screen.screening === 'dispersed') {
    return screen.dotUm ? `dispersed dots of ${trimNumber(screen.dotUm, 0)} µm` : 'dispersed dots';
  }
  return `${trimNumber(screen.lpi, 1)} lpi / ${trimNumber(screen.angleDeg, 1)}° ${screen.shape}`;
}

function describeGain({ screen }: Plate): string {
  if (screen.screening === 'solid') return '';
  if (screen.measured) return 'measured gain compensated';
  return screen.gain > 0 ? `gain ${trimNumber(screen.gain * 100, 0)} % compensated` : 'gain not compensated';
}
