/** Twin of core/raster/composite.ts. `tone` 0 means solid. `count` is a multiple of 4; planes stand one after another. */
export function compositeInk(
  light: usize,
  count: i32,
  shape: usize,
  tone: usize,
  r: f64,
  g: f64,
  b: f64,
  opacity: f64,
): void {
  plane(light, count, shape, tone, <f32>(opacity * r), <f32>((1 - opacity) * r));
  plane(light + ((<usize>count) << 2), count, shape, tone, <f32>(opacity * g), <f32>((1 - opacity) * g));
  plane(light + ((<usize>count) << 3), count, shape, tone, <f32>(opacity * b), <f32>((1 - opacity) * b));
}

function plane(light: usize, count: i32, shape: usize, tone: usize, opaque: f32, filter: f32): void {
  const scale = v128.splat<f32>(<f32>(1.0 / (255.0 * 65535.0)));
  const solid = v128.splat<i32>(65535);
  const vo = v128.splat<f32>(opaque);
  const vf = v128.splat<f32>(filter);
  for (let i: i32 = 0; i < count; i += 4) {
    const shapes = load<u32>(shape + <usize>i);
    if (shapes == 0) continue;
    const s = i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(shape + <usize>i)));
    const t = tone == 0 ? solid : i32x4.extend_low_i16x8_u(v128.load64_zero(tone + ((<usize>i) << 1)));
    const a = v128.mul<f32>(f32x4.convert_i32x4_u(v128.mul<i32>(s, t)), scale);
    const at: usize = light + ((<usize>i) << 2);
    const x = v128.load(at);
    const full = v128.add<f32>(vo, v128.mul<f32>(vf, x));
    v128.store(at, v128.add<f32>(x, v128.mul<f32>(a, v128.sub<f32>(full, x))));
  }
}
