import { type Rgb8, formatHexColour } from '../colour';
import { type FittedLine, type Point, type Segment, fitLine } from './fitLine';
import type { Traced } from './traceAreas';

/** A closed outline in pixels of the artwork. */
export interface Outline {
  readonly from: Point;
  readonly segments: readonly Segment[];
}

/** What is painted in one colour: its own areas and those of all colours that are painted over it, so that no gap is between them. */
export interface PaintedArea {
  readonly colour: string;
  readonly outlines: readonly Outline[];
}

/** The line the other way round. */
function reversed({ from, segments }: FittedLine): FittedLine {
  const starts = [from, ...segments.map(({ to }) => to)];
  return {
    from: starts[starts.length - 1]!,
    segments: segments
      .map((segment, k): Segment => {
        const to = starts[k]!;
        return segment.kind === 'line'
          ? { kind: 'line', to }
          : { kind: 'curve', one: segment.two, two: segment.one, to };
      })
      .reverse(),
  };
}

/**
 * Areas as outlines, in the order in which they are painted: labels in ascending order, each with all later ones below these.
 *
 * @param scale working pixels to one of the artwork.
 */
export function areasOf(traced: Traced, colours: readonly Rgb8[], scale: number): PaintedArea[] {
  const { chains, ends, sides, around } = traced;
  // Seen along it, the label that is painted last lies on the left: whoever uses a line goes the same way.
  const lines = chains.map(({ points, isClosed, fixed, left, right }) => {
    const line = scaled(fitLine(points, isClosed, fixed), 1 / scale);
    return left > right ? line : reversed(line);
  });
  const isForward = chains.map(({ left, right }) => left > right);
  return colours.map((rgb, first) => {
    const isUsed = chains.map(
      ({ left, right }) => Math.max(left, right) >= first && Math.min(left, right) < first,
    );
    const used = new Uint8Array(chains.length);
    const outlines: Outline[] = [];
    chains.forEach(({ isClosed }, start) => {
      if (!isUsed[start] || used[start]) return;
      const segments: Segment[] = [];
      for (let chain = start; !used[chain];) {
        used[chain] = 1;
        segments.push(...lines[chain]!.segments);
        if (isClosed) break;
        const arrived = sides[chain]![isForward[chain] ? 1 : 0];
        const place = arrived >> 2;
        const inside = around(place).map((label) => label >= first);
        // Entering through side k, what is inside lies at corner k + 1: on round the place until it ends.
        let side = (arrived + 1) & 3;
        while (inside[(side + 1) & 3]) side = (side + 1) & 3;
        const end = ends.get(place * 4 + side)!;
        chain = end < 0 ? ~end : end;
      }
      outlines.push({ from: lines[start]!.from, segments });
    });
    return { colour: formatHexColour(rgb), outlines };
  });
}

function scaled({ from, segments }: FittedLine, by: number): FittedLine {
  const point = ([x, y]: Point): Point => [x * by, y * by];
  return {
    from: point(from),
    segments: segments.map((segment) =>
      segment.kind === 'line'
        ? { kind: 'line', to: point(segment.to) }
        : { kind: 'curve', one: point(segment.one), two: point(segment.two), to: point(segment.to) },
    ),
  };
}

/** Hundredths of a pixel are finer than any film. */
const number = (value: number): string => String(Math.round(value * 100) / 100);
const pair = ([x, y]: Point): string => `${number(x)} ${number(y)}`;

function pathData({ from, segments }: Outline): string {
  const parts = segments.map((segment) =>
    segment.kind === 'line'
      ? `L${pair(segment.to)}`
      : `C${pair(segment.one)} ${pair(segment.two)} ${pair(segment.to)}`,
  );
  return `M${pair(from)}${parts.join('')}Z`;
}

/** Size of the whole drawing; without one its pixels are its units. */
export interface DrawnSize {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly widthMm: number | null;
  readonly heightMm: number | null;
}

/** Areas as a drawing. Its edges are drawn without smoothing: where colours lie over each other, smooth edges would show those below. */
export function areasSvg(areas: readonly PaintedArea[], size: DrawnSize): string {
  const { widthPx, heightPx, widthMm, heightMm } = size;
  const [width, height] =
    widthMm !== null && heightMm !== null
      ? [`${number(widthMm)}mm`, `${number(heightMm)}mm`]
      : [widthPx, heightPx];
  const paths = areas.map(
    ({ colour, outlines }) => `<path fill="${colour}" d="${outlines.map(pathData).join('')}"/>\n`,
  );
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${widthPx} ${heightPx}" shape-rendering="crispEdges">\n${paths.join('')}</svg>\n`;
}
