import { formatHexColour, parseHexColour } from '@/core/colour';
import { type InkRequest, type SimulatedInks, usualSimulatedInks } from '@/core/separation';
import { BASE_WHITE, LIMITS } from '@/core/sheet';
import { type Options, bad, readChoice } from './arguments';

export type InkWish = 'auto' | 'process' | number | InkRequest[];

/** An ink like `#de2224` or `#de2224/0.75`, its colour and its opacity. */
function readOptics(text: string, parameter: string): Omit<InkRequest, 'name'> | null {
  const match = /^(#?[0-9a-fA-F]{3,6})(?:\/([\d.]+))?$/.exec(text.trim());
  if (!match) return null;
  const colour = formatHexColour(parseHexColour(match[1]!, parameter));
  if (match[2] === undefined) return { colour };
  const opacity = Number(match[2]);
  if (!(opacity >= 0 && opacity <= 1)) {
    throw bad(parameter, `--${parameter} has the opacity ${match[2]}.`, 'Give one from 0 to 1.');
  }
  return { colour, opacity };
}

/** `auto`, a number of inks at most, or a list of inks. */
export function readInks(options: Options): InkWish {
  const text = options.inks;
  if (text === undefined || text === 'auto') return 'auto';
  if (text === 'process') return text;
  const most = LIMITS.maxPlates - 1;
  if (/^\d+$/.test(text.trim())) {
    const count = Number(text);
    if (count < 1 || count > most)
      throw bad('inks', `--inks ${text} is out of range.`, `Give 1 to ${most} inks.`);
    return count;
  }
  return text.split(',').map((part) => {
    const [name = '', ...rest] = part.split('=').map((each) => each.trim());
    const optics = readOptics(rest.join('='), 'inks');
    if (name === '' || !optics) {
      throw bad(
        'inks',
        `--inks has "${part.trim()}", which is no ink.`,
        'Write "name=#rrggbb,name=#rrggbb/opacity".',
      );
    }
    return { name, ...optics };
  });
}

/** The inks of tones, as `--inks`, `--base-white` and `--highlight` say; the usual ones where no inks are named, to be chosen better once the artwork is known. */
export function simulatedInks(options: Options, wish: InkWish, garmentColour: string): SimulatedInks {
  const usual = usualSimulatedInks(garmentColour);
  const highlight = readChoice(options, 'highlight', ['yes', 'no']);
  const base = readBase(options['base-white'], usual.base);
  const inks = typeof wish === 'object' ? wish : usual.inks;
  const whites = (base ? 1 : 0) + 1;
  if (inks.length + whites > LIMITS.maxPlates) {
    throw bad(
      'inks',
      `--inks has ${inks.length} inks.`,
      `Give ${LIMITS.maxPlates - whites} at most, beside the whites.`,
    );
  }
  return { inks, base, highlight: highlight ? highlight === 'yes' : usual.highlight };
}

/** A white under the inks: `usual` where nothing is said of it, null where there is to be none. */
export function readBase(text: string | undefined, usual: SimulatedInks['base']): SimulatedInks['base'] {
  if (text === undefined) return usual;
  if (text === 'no') return null;
  if (text === 'yes') return BASE_WHITE;
  const optics = readOptics(text, 'base-white');
  if (!optics)
    throw bad('base-white', `--base-white ${text} is no ink.`, 'Write yes, no or #rrggbb/opacity.');
  return { colour: optics.colour, opacity: optics.opacity ?? BASE_WHITE.opacity };
}
