/** Pieces of a mask that are smaller than a limit. */
export interface SmallPieces {
  readonly count: number;
  /** Where one of them begins; null where there are none. */
  readonly place: { readonly x: number; readonly y: number } | null;
}

/**
 * Counts the pieces of a mask, joined at sides and corners, that have fewer pixels than a limit. Works on runs of rows, so that memory
 * grows with the outline and not with the area.
 *
 * @param mask one byte for each pixel; from 128 on it is in.
 */
export function countSmallPieces(
  mask: Uint8Array,
  width: number,
  height: number,
  limit: number,
): SmallPieces {
  const parent: number[] = [];
  const size: number[] = [];
  const first: number[] = [];
  const rootOf = (k: number): number => {
    let root = k;
    while (parent[root] !== root) root = parent[root]!;
    while (parent[k] !== root) [parent[k], k] = [root, parent[k]!];
    return root;
  };
  let above: { from: number; to: number; piece: number }[] = [];
  for (let y = 0; y < height; y++) {
    const runs: typeof above = [];
    const row = y * width;
    let next = 0;
    for (let x = 0; x < width;) {
      if (mask[row + x]! < 128) {
        x++;
        continue;
      }
      const from = x;
      while (x < width && mask[row + x]! >= 128) x++;
      let piece = -1;
      while (next < above.length && above[next]!.to < from) next++;
      for (let k = next; k < above.length && above[k]!.from <= x; k++) {
        const other = rootOf(above[k]!.piece);
        if (piece < 0) piece = other;
        else if (piece !== other) {
          parent[other] = piece;
          size[piece]! += size[other]!;
          first[piece] = Math.min(first[piece]!, first[other]!);
        }
      }
      if (piece < 0) {
        piece = parent.length;
        parent.push(piece);
        size.push(0);
        first.push(row + from);
      }
      size[piece]! += x - from;
      runs.push({ from, to: x, piece });
    }
    above = runs;
  }
  let count = 0;
  let place = -1;
  parent.forEach((root, k) => {
    if (root !== k || size[k]! >= limit) return;
    count++;
    if (place < 0) place = first[k]!;
  });
  return { count, place: place < 0 ? null : { x: place % width, y: Math.floor(place / width) } };
}
