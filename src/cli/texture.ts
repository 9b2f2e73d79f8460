import { DEFAULT_TEXTURE, type JobSheet, LIMITS, TEXTURES, type Texture } from '@/core/sheet';
import { parseLengthMm } from '@/core/units';
import { type Options, bad } from './arguments';

/** How each setting of a texture is read. */
const SETTINGS: Readonly<Record<string, (text: string) => Partial<Texture>>> = {
  strength: (text) => ({ strength: percentOf('strength', text, 0, LIMITS.maxWear * 100) }),
  contrast: (text) => ({ contrast: percentOf('contrast', text, 0, 100) }),
  scale: (text) => ({
    scale: percentOf('scale', text, LIMITS.minTextureScale * 100, LIMITS.maxTextureScale * 100),
  }),
  angle: (text) => ({ angleDeg: degreesOf('angle', text) }),
  double: (text) => ({ secondDeg: degreesOf('double', text) }),
  x: (text) => ({ xMm: parseLengthMm(text, { parameter: 'texture', minMm: 0, maxMm: LIMITS.maxPrintMm }) }),
  y: (text) => ({ yMm: parseLengthMm(text, { parameter: 'texture', minMm: 0, maxMm: LIMITS.maxPrintMm }) }),
};

/** The texture that `--texture` asks for, on what the sheet has. Throws KerameusError `argument`. */
export function readTexture({ texture: given }: Options, sheet: JobSheet): Texture | null {
  if (given === undefined) return sheet.texture;
  const [first, ...rest] = given.split(',').map((part) => part.trim());
  if (first === 'none' && rest.length === 0) return null;
  const [kind, strength] = first!.split(':');
  const picture = kind === 'picture' ? (sheet.texture?.picture ?? null) : null;
  if (kind === 'picture' && !picture) {
    throw bad('texture', '--texture picture has no picture.', 'Give its file with --texture-picture.');
  }
  const known = picture ? ('picture' as const) : TEXTURES.find((each) => each === kind);
  if (known === undefined) {
    throw bad(
      'texture',
      `--texture ${given} begins with no texture.`,
      `Give none or one of ${TEXTURES.join(', ')}.`,
    );
  }
  const pairs = [...(strength === undefined ? [] : [`strength=${strength}`]), ...rest];
  return pairs.reduce<Texture>((texture, pair) => ({ ...texture, ...settingOf(pair) }), {
    ...(sheet.texture ?? DEFAULT_TEXTURE),
    kind: known,
    picture,
  });
}

function settingOf(pair: string): Partial<Texture> {
  const [name, value, ...more] = pair.split('=').map((part) => part.trim());
  const read = Object.hasOwn(SETTINGS, name!) ? SETTINGS[name!]! : null;
  if (!read || value === undefined || more.length > 0) {
    throw bad(
      'texture',
      `--texture has "${pair}", which is no setting of it.`,
      `Settings are ${Object.keys(SETTINGS).join(', ')}, like scale=150%.`,
    );
  }
  return read(value);
}

function percentOf(name: string, text: string, least: number, most: number): number {
  const value = Number(/^(-?[\d.]+)\s*%?$/.exec(text)?.[1]);
  if (!(value >= least && value <= most)) {
    throw bad('texture', `--texture has ${name}=${text}.`, `Give it in percent, from ${least} to ${most}.`);
  }
  return value / 100;
}

function degreesOf(name: string, text: string): number {
  const value = text === '' ? NaN : Number(text);
  if (!(Math.abs(value) <= 360)) {
    throw bad('texture', `--texture has ${name}=${text}.`, 'Give it in degrees, from -360 to 360.');
  }
  return value;
}
