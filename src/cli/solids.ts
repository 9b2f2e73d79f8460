import type { FoundColour } from '@/core/artwork';
import { formatHexColour, parseHexColour } from '@/core/colour';
import { type KeepWish, keepColour, keepFlat, keepOnOwnInk, solidPlates } from '@/core/separation';
import { type JobSheet, fullToneLayer, isSimulated, keptOf, withKept } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { type Options, bad } from './arguments';

const HOW = 'Write auto, none or a list like "#c8102e,#101010=tar,#1f4e79=own,#ffffff=garment".';

/** What one part of the list asks for. */
function readPart(sheet: JobSheet, part: string): { colour: string; wish: KeepWish | 'own' } {
  const [code = '', ...rest] = part.split('=').map((each) => each.trim());
  if (!/^#?[0-9a-fA-F]{3,6}$/.test(code))
    throw bad('solid', `--solid has "${part.trim()}", which is no colour.`, HOW);
  const colour = formatHexColour(parseHexColour(code, 'solid'));
  const name = rest.join('=').toLowerCase();
  if (name === 'garment') return { colour, wish: { as: 'garment' } };
  if (name === 'own') return { colour, wish: 'own' };
  const plates = solidPlates(sheet, colour);
  const found = name === '' ? plates[0] : plates.find(({ plate }) => plate.ink.name.toLowerCase() === name);
  if (!found) {
    const named = plates.map(({ plate }) => plate.ink.name).join(', ');
    throw bad('solid', `--solid names "${name}", which is no ink of this job: ${named}.`, HOW);
  }
  return { colour, wish: { as: 'ink', plateId: found.plate.id } };
}

/**
 * A job of tones with its flat areas kept solid where `--solid auto` asks for it, before its inks are chosen: colours of large areas get inks.
 *
 * @param usual whether they are where nothing is said of it.
 */
export function withFlatSolids(
  sheet: JobSheet,
  options: Options,
  keepable: readonly FoundColour[],
  usual: boolean,
): JobSheet {
  const isWanted = options.solid === undefined ? usual : options.solid.trim() === 'auto';
  return isWanted ? keepFlat(sheet, keepable) : sheet;
}

/** A job of tones with the flat colours that `--solid` lists kept solid on its inks. */
export function withSolids(sheet: JobSheet, options: Options): JobSheet {
  const text = options.solid?.trim();
  if (text !== undefined && !isSimulated(sheet)) {
    throw bad(
      'solid',
      '--solid is for tones: spot colours are solid.',
      'Give --method simulated, or leave it out.',
    );
  }
  if (text === 'none') return withKept(sheet, []);
  if (text === 'auto' && keptOf(sheet).length === 0) {
    process.stderr.write('kerameus: No flat area was found that could be kept solid.\n');
  }
  const next =
    text === undefined || text === 'auto'
      ? sheet
      : text
          .split(',')
          .map((part) => readPart(sheet, part))
          .reduce(
            (made, { colour, wish }) =>
              wish === 'own' ? keepOnOwnInk(made, colour) : keepColour(made, colour, wish),
            sheet,
          );
  tellSolids(next);
  return next;
}

/** What became of each colour, on standard error. */
function tellSolids(sheet: JobSheet): void {
  const words = solidReport(sheet)?.map(({ color, ink, as, difference }) =>
    ink
      ? `${color} on ${ink} (${trimNumber(difference!, 1)} off)`
      : `${color} ${as === 'garment' ? 'left to the garment' : 'as dots: no ink is near'}`,
  );
  if (words && words.length > 0) process.stderr.write(`kerameus: Kept solid: ${words.join(', ')}.\n`);
}

/** What `report.json` says of the flat colours that are kept out of the tones; null where the job is not of tones. */
export function solidReport(sheet: JobSheet) {
  if (!fullToneLayer(sheet)) return null;
  return keptOf(sheet).map(({ colour, as, plateId }) => {
    const found = solidPlates(sheet, colour).find(({ plate }) => plate.id === plateId);
    return {
      color: colour,
      as: as === 'ink' && !found ? ('dots' as const) : as,
      ink: found?.plate.ink.name ?? null,
      difference: found ? Math.round(found.difference * 100) / 100 : null,
    };
  });
}
