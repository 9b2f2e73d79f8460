import type { Drawing, NodeList } from './drawing';

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
