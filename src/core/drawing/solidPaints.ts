import type { Drawing, DrawingPicture, NodeList, Paint } from './drawing';

/** The colours that a drawing paints flat and opaque, red in the lowest byte; groups may still change what is seen of them. */
export function solidPaints(drawing: Drawing): ReadonlySet<number> {
  const found = new Set<number>();
  const visit = ({ nodes }: NodeList): void => {
    for (const node of nodes) {
      if (node.kind === 'group') visit(node.children);
      if (node.kind !== 'shape') continue;
      for (const part of [node.fill, node.stroke]) {
        if (part?.paint.kind === 'colour' && part.opacity >= 1) found.add(part.paint.rgb);
      }
    }
  };
  visit(drawing.root);
  for (const { children } of drawing.patterns) visit(children);
  return found;
}

const WHITE = 0xffffff;

/** Whether whatever a drawing paints is white, so that a plate drawn in gray prints nothing. */
export function paintsOnlyWhite(drawing: Drawing): boolean {
  const isWhite = (paint: Paint): boolean =>
    paint.kind === 'colour'
      ? paint.rgb === WHITE
      : paint.kind === 'gradient'
        ? drawing.gradients[paint.index]!.stops.every(({ rgb, opacity }) => rgb === WHITE || opacity === 0)
        : isWhiteList(drawing.patterns[paint.index]!.children);
  const isWhitePicture = ({ data }: DrawingPicture): boolean => {
    for (let i = 0; i < data.length; i += 4) {
      if (data[i + 3] !== 0 && (data[i] !== 255 || data[i + 1] !== 255 || data[i + 2] !== 255)) return false;
    }
    return true;
  };
  const isWhiteList = ({ nodes }: NodeList): boolean =>
    nodes.every((node) => {
      if (node.kind === 'group') return isWhiteList(node.children);
      if (node.kind === 'picture') return isWhitePicture(drawing.pictures[node.picture]!);
      return [node.fill, node.stroke].every((part) => !part || isWhite(part.paint));
    });
  return isWhiteList(drawing.root);
}
