/**
 * Twin of the loop in core/raster/nearestPairs.ts, for one row.
 *
 * @param row of what nearestSet found, followed by the next one where `isLast` is 0.
 * @param first index of its first pixel.
 * @returns how many pairs were written, four 32-bit numbers each; two for each pixel at most.
 */
export function nearestPairs(
  row: usize,
  first: i32,
  width: i32,
  isLast: i32,
  beside: i32,
  out: usize,
): i32 {
  const none = v128.splat<i32>(-1);
  const right = v128.splat<i32>(beside);
  const below = v128.splat<i32>(width);
  const line = (<usize>width) << 2;
  let to = out;
  for (let x: i32 = 0; x < width; x += 4) {
    const at = row + ((<usize>x) << 2);
    if (x + 5 <= width) {
      const from = v128.load(at);
      let apart = apartFrom(from, v128.load(at, 4), right, none);
      if (!isLast) apart = v128.or(apart, apartFrom(from, v128.load(at + line), below, none));
      if (!v128.any_true(v128.and(apart, v128.gt<i32>(from, none)))) continue;
    }
    const end = min<i32>(width, x + 4);
    for (let k = x; k < end; k++) {
      const here = row + ((<usize>k) << 2);
      const from = load<i32>(here);
      if (from < 0) continue;
      if (k + 1 < width) to = write(to, first + k, 1, from, load<i32>(here, 4), beside);
      if (!isLast) to = write(to, first + k, width, from, load<i32>(here + line), width);
    }
  }
  return <i32>((to - out) >> 4);
}

// @ts-expect-error: decorators are AssemblyScript's
@inline
function apartFrom(from: v128, other: v128, step: v128, none: v128): v128 {
  const near = v128.or(v128.eq<i32>(other, from), v128.eq<i32>(other, v128.add<i32>(from, step)));
  return v128.andnot(v128.gt<i32>(other, none), near);
}

// @ts-expect-error: decorators are AssemblyScript's
@inline
function write(to: usize, pixel: i32, next: i32, from: i32, other: i32, step: i32): usize {
  if (other < 0 || other == from || other == from + step) return to;
  store<i32>(to, pixel);
  store<i32>(to, pixel + next, 4);
  store<i32>(to, from, 8);
  store<i32>(to, other, 12);
  return to + 16;
}
