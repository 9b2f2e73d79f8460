import type { Box } from '@/core/drawing';

/** The id of a filter's changed form, in the document that it is rendered from. */
export const UNDER = 'kerameus-under';

interface FilterPart {
  readonly name: string;
  readonly attributes: Record<string, string>;
}

/** What is known of a filter of the simplified drawing. */
export interface FilterNote {
  /** Its pieces, as the file names them, for messages. */
  readonly names: string;
  /** The area that it touches, in the coordinates of the group; null where there is none. */
  areaOf(box: Box): Box | null;
  readonly parts: readonly FilterPart[];
  readonly text: string;
}

export function filterNote(
  attributes: Record<string, string>,
  parts: readonly FilterPart[],
  text: string,
): FilterNote {
  const at = (key: string, fallback: number) => Number(attributes[key] ?? fallback);
  const [x, y, width, height] = [at('x', -0.1), at('y', -0.1), at('width', 1.2), at('height', 1.2)];
  return {
    names: [...new Set(parts.map(({ name }) => name))].join(', '),
    parts,
    text,
    areaOf: (box) => {
      if (attributes.filterUnits === 'userSpaceOnUse') return [x, y, x + width, y + height];
      const [w, h] = [box[2] - box[0], box[3] - box[1]];
      if (!(w > 0 && h > 0)) return null;
      return [box[0] + x * w, box[1] + y * h, box[0] + (x + width) * w, box[1] + (y + height) * h];
    },
  };
}

/**
 * A filter that ends by laying the group itself over what it made (a shadow, a glow): its text without that last step, under the id `UNDER`, so
 * that the group can stay outlines. Null for any other filter.
 */
export function withoutSource(note: FilterNote): string | null {
  const last = note.parts.at(-1);
  if (!last) return null;
  // The space parts feMerge from its nodes.
  const from = note.text.lastIndexOf(`<${last.name} `);
  const head = note.text.slice(0, from).replace(/\bid="[^"]*"/, `id="${UNDER}"`);
  const close = '</filter>';
  const colours = `color-interpolation-filters="${last.attributes['color-interpolation-filters'] ?? 'linearRGB'}"`;
  if (last.name === 'feMerge') {
    const nodes = [...note.text.slice(from).matchAll(/<feMergeNode in="([^"]*)"\/>/g)];
    if (nodes.length < 2 || nodes.at(-1)![1] !== 'SourceGraphic') return null;
    const kept = nodes.slice(0, -1).map((match) => match[0]);
    return `${head}<feMerge ${colours}>${kept.join('')}</feMerge>${close}`;
  }
  const { in: source, in2: below, operator, mode } = last.attributes;
  const lays =
    (last.name === 'feComposite' && (operator ?? 'over') === 'over') ||
    (last.name === 'feBlend' && (mode ?? 'normal') === 'normal');
  if (lays && source === 'SourceGraphic' && below) {
    return `${head}<feOffset ${colours} in="${below}" dx="0" dy="0"/>${close}`;
  }
  if (last.name === 'feDropShadow' && source === 'SourceGraphic') {
    const { dx = '2', dy = '2', stdDeviation = '2' } = last.attributes;
    const flood = `flood-color="${last.attributes['flood-color'] ?? '#000000'}" flood-opacity="${last.attributes['flood-opacity'] ?? '1'}"`;
    return (
      `${head}<feGaussianBlur ${colours} in="SourceAlpha" stdDeviation="${stdDeviation}" result="${UNDER}-blur"/>` +
      `<feOffset ${colours} in="${UNDER}-blur" dx="${dx}" dy="${dy}" result="${UNDER}-moved"/>` +
      `<feFlood ${colours} ${flood} result="${UNDER}-flood"/>` +
      `<feComposite ${colours} in="${UNDER}-flood" in2="${UNDER}-moved" operator="in"/>${close}`
    );
  }
  return null;
}

/** Pieces that leave what is smooth smooth, with the inputs that each reads. */
const SMOOTH_PIECES: Readonly<Record<string, readonly string[]>> = {
  feOffset: ['in'],
  feColorMatrix: ['in'],
  feFlood: [],
  feComposite: ['in', 'in2'],
  feBlend: ['in', 'in2'],
  feMerge: [],
  feMergeNode: ['in'],
};

/**
 * The least standard deviation of the blurs that all of a filter's result went through, in the group's units; null where some of it is as sharp
 * as the group. A picture of such a result wants no more pixels than its blur has detail.
 *
 * @param text of a filter of the simplified drawing, which names all inputs.
 */
export function leastBlur(text: string): number | null {
  if (/primitiveUnits="objectBoundingBox"/.test(text)) return null;
  let least = Infinity;
  for (const [, name, inside] of text.matchAll(/<(fe\w+)([^>]*)>/g)) {
    const of = (key: string) => new RegExp(`\\s${key}="([^"]*)"`).exec(inside!)?.[1];
    if (name === 'feGaussianBlur' || name === 'feDropShadow') {
      // A drop shadow also lays what it was made of on top.
      if (name === 'feDropShadow') return null;
      const deviations = (of('stdDeviation') ?? '0')
        .trim()
        .split(/[\s,]+/)
        .map(Number);
      // Blurring twice is smoother than blurring once.
      least = Math.min(least, ...deviations);
      continue;
    }
    const inputs = SMOOTH_PIECES[name!];
    if (!inputs) return null;
    for (const key of inputs) {
      const input = of(key);
      if (input === undefined || input === 'SourceGraphic' || input === 'SourceAlpha') return null;
    }
  }
  return Number.isFinite(least) && least > 0 ? least : null;
}
