import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { DOT_SHAPES, LIMITS } from '@/core/sheet';
import { filmToneTable } from '@/core/tone';
import { parseLengthMm } from '@/core/units';
import { keptTiles, readTones, writeScreenedTiff } from '@/server/films';
import { type Options, bad, readChoice, readNumber, readPercent, readReadings, required } from './arguments';

/** `screen PLANE`: makes the film of one finished plate. Returns the file's path. */
export async function screen(file: string, options: Options): Promise<string> {
  const target = required(options, 'out');
  if (!/\.tiff?$/i.test(target)) throw bad('out', `--out ${target} is no TIFF.`, 'Name it like plate.tif.');
  const widthMm = parseLengthMm(required(options, 'width'), {
    parameter: 'width',
    minMm: LIMITS.minPrintMm,
    maxMm: LIMITS.maxPrintMm,
  });
  const dpi = readNumber(options, 'dpi', LIMITS.minDpi, LIMITS.maxDpi) ?? 720;
  const lpi = readNumber(options, 'lpi', 10, 150) ?? 45;
  const angleDeg = readNumber(options, 'angle', -360, 360) ?? 22.5;
  const shape = readChoice(options, 'shape', DOT_SHAPES) ?? 'ellipse';
  const ratio = readNumber(options, 'ratio', 1, 2);
  const edges = readChoice(options, 'edges', ['linear', 'nearest'] as const) ?? 'linear';
  const ink = readChoice(options, 'ink', ['light', 'dark'] as const) ?? 'light';
  const curve = filmToneTable({
    gain: readPercent(options, 'gain', 0, 50) ?? 0,
    measured: await readReadings(options, 'wedge'),
    printer: await readReadings(options, 'printer-curve'),
  });
  const plane = await readTones(file);
  const { highest } = plane;
  const tones = Uint16Array.from({ length: highest + 1 }, (_, value) => {
    const tone = ink === 'light' ? value : highest - value;
    return curve[Math.round((tone * 65535) / highest)]!;
  });
  await mkdir(path.dirname(path.resolve(target)), { recursive: true });
  await writeScreenedTiff(
    {
      plane,
      widthMm,
      heightMm: (widthMm * plane.height) / plane.width,
      dpi,
      edges,
      tile: keptTiles().get({ dpi, lpi, angleDeg, shape, ...(ratio === null ? {} : { ratio }) }),
      tones,
      description: `${path.basename(file)}: ${lpi} lpi / ${angleDeg} ${shape}`,
    },
    target,
  );
  return target;
}
