import opentype from 'opentype.js';

/** Closed outlines, each x, y, x, y, ... */
export type Outlines = readonly Float64Array[];

/** A font made ready for setting labels. */
export interface LabelFont {
  /** Outlines of a line of text whose baseline starts at (x, y), and how wide it runs; any unit, y down. */
  outline(text: string, size: number, x: number, y: number): { outlines: Outlines; width: number };
}

/** How many straight pieces stand for a curve; at label sizes they are below a device pixel. */
const CURVE_STEPS = 8;

/** Opens a TrueType or OpenType font from its bytes. */
export function openLabelFont(bytes: ArrayBuffer): LabelFont {
  const font = opentype.parse(bytes);
  return {
    outline(text, size, x, y) {
      const path = font.getPath(text, x, y, size);
      return { outlines: flatten(path.commands), width: font.getAdvanceWidth(text, size) };
    },
  };
}

function flatten(commands: readonly opentype.PathCommand[]): Outlines {
  const outlines: Float64Array[] = [];
  let points: number[] = [];
  const close = (): void => {
    if (points.length >= 6) outlines.push(Float64Array.from(points));
    points = [];
  };
  for (const command of commands) {
    if (command.type === 'M') {
      close();
      points.push(command.x, command.y);
    } else if (command.type === 'L') points.push(command.x, command.y);
    else if (command.type === 'Z') close();
    else {
      const x0 = points[points.length - 2]!;
      const y0 = points[points.length - 1]!;
      for (let k = 1; k <= CURVE_STEPS; k++) {
        const t = k / CURVE_STEPS;
        const s = 1 - t;
        if (command.type === 'Q') {
          points.push(
            s * s * x0 + 2 * s * t * command.x1 + t * t * command.x,
            s * s * y0 + 2 * s * t * command.y1 + t * t * command.y,
          );
        } else {
          points.push(
            s ** 3 * x0 + 3 * s * s * t * command.x1 + 3 * s * t * t * command.x2 + t ** 3 * command.x,
            s ** 3 * y0 + 3 * s * s * t * command.y1 + 3 * s * t * t * command.y2 + t ** 3 * command.y,
          );
        }
      }
    }
  }
  close();
  return outlines;
}
