/** Twin of core/drawing/paintGradient.ts: a run of a row, at least one pixel, over words of sRGB codes with straight alpha. */
export function paintGradient(
  words: usize,
  count: i32,
  x: i32,
  y: i32,
  form: usize,
  stops: usize,
  stopCount: i32,
  opacity: f64,
): void {
  const isLinear = load<f64>(form) == 0;
  const spread = <i32>load<f64>(form, 8);
  const py = <f64>y + 0.5;
  const last = stopCount - 1;
  let before = 0;
  for (let k = 0; k < count; k++) {
    const at = words + ((<usize>k) << 2);
    let stop = stops;
    let share = -1.0;
    if (last > 0) {
      const px = <f64>(x + k) + 0.5;
      let t = isLinear
        ? load<f64>(form, 16) * px + load<f64>(form, 24) * py + load<f64>(form, 32)
        : radial(form, px, py);
      if (t != t) continue;
      if (spread == 2) t -= Math.floor(t);
      else if (spread == 1) {
        t = Math.abs(t % 2);
        if (t > 1) t = 2 - t;
      }
      if (load<f64>(stops + <usize>before * 40) > t) before = 0;
      if (load<f64>(stops + <usize>before * 40) <= t) {
        while (before < last && load<f64>(stops + <usize>(before + 1) * 40) <= t) before++;
        stop = stops + <usize>before * 40;
        if (before < last) share = (t - load<f64>(stop)) / (load<f64>(stop, 40) - load<f64>(stop));
      }
    }
    let r = load<f64>(stop, 8);
    let g = load<f64>(stop, 16);
    let b = load<f64>(stop, 24);
    let alpha = load<f64>(stop, 32);
    if (share >= 0) {
      r = r + (load<f64>(stop, 48) - r) * share;
      g = g + (load<f64>(stop, 56) - g) * share;
      b = b + (load<f64>(stop, 64) - b) * share;
      alpha = alpha + (load<f64>(stop, 72) - alpha) * share;
    }
    store<u32>(at, over(load<u32>(at), r, g, b, alpha * opacity));
  }
}

/** The largest t whose circle passes through the pixel's centre and has a radius, or NaN. */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function radial(form: usize, px: f64, py: f64): f64 {
  const x = load<f64>(form, 40) * px + load<f64>(form, 56) * py + load<f64>(form, 72);
  const y = load<f64>(form, 48) * px + load<f64>(form, 64) * py + load<f64>(form, 80);
  const r1 = load<f64>(form, 104);
  const cx = load<f64>(form, 112);
  const cy = load<f64>(form, 120);
  const dr = load<f64>(form, 128);
  const dx = x - load<f64>(form, 88);
  const dy = y - load<f64>(form, 96);
  if (cx == 0 && cy == 0) return dr == 0 ? NaN : (Math.sqrt(dx * dx + dy * dy) - r1) / dr;
  const a = load<f64>(form, 136);
  const b = dx * cx + dy * cy + r1 * dr;
  const c = dx * dx + dy * dy - r1 * r1;
  if (load<f64>(form, 144) != 0) {
    const t = c / (2 * b);
    return r1 + t * dr >= 0 ? t : NaN;
  }
  const root = b * b - a * c;
  if (root < 0) return NaN;
  const s = Math.sqrt(root);
  const low = a > 0 ? (b - s) / a : (b + s) / a;
  const high = a > 0 ? (b + s) / a : (b - s) / a;
  if (r1 + high * dr >= 0) return high;
  return r1 + low * dr >= 0 ? low : NaN;
}

/** A colour over another (Porter and Duff 1984). */
// @ts-expect-error: decorators are AssemblyScript's
@inline
function over(under: u32, r: f64, g: f64, b: f64, alpha: f64): u32 {
  if (alpha >= 1) return word(255, r, g, b);
  if (!(alpha > 0)) return under;
  const uR = <f64>(under & 255);
  const uG = <f64>((under >> 8) & 255);
  const uB = <f64>((under >> 16) & 255);
  if (under >>> 24 == 255) {
    const rest = 1 - alpha;
    return word(255, r * alpha + uR * rest, g * alpha + uG * rest, b * alpha + uB * rest);
  }
  const kept = (<f64>(under >>> 24) / 255) * (1 - alpha);
  const sum = alpha + kept;
  const code = <u32>(sum * 255 + 0.5);
  if (code == 0) return under;
  const p = alpha / sum;
  const q = kept / sum;
  return word(code, r * p + uR * q, g * p + uG * q, b * p + uB * q);
}

// @ts-expect-error: decorators are AssemblyScript's
@inline
function word(code: u32, r: f64, g: f64, b: f64): u32 {
  return (code << 24) | (<u32>(b + 0.5) << 16) | (<u32>(g + 0.5) << 8) | <u32>(r + 0.5);
}
