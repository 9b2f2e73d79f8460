import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

/** The folder of the application, from wherever a bundle of it runs. */
export function projectRoot(): string {
  const set = process.env.KERAMEUS_ROOT;
  if (set) return set;
  let folder = path.dirname(fileURLToPath(import.meta.url));
  while (!isRoot(folder) && path.dirname(folder) !== folder) folder = path.dirname(folder);
  return isRoot(folder) ? folder : process.cwd();
}

/** Builds put package files of their own into folders; the project's is the one with its name. */
function isRoot(folder: string): boolean {
  const file = path.join(folder, 'package.json');
  return existsSync(file) && readFileSync(file, 'utf8').includes('"name": "kerameus"');
}

/** Where the bundles for Node.js lie. */
export function distFolder(): string {
  return path.join(/* turbopackIgnore: true */ projectRoot(), process.env.KERAMEUS_DIST ?? 'dist');
}

/** Fonts for artwork text and labels; they ship with the application. */
export function fontFiles(): string[] {
  const folder = path.join(projectRoot(), 'node_modules/@expo-google-fonts/archivo');
  const weights = [
    '300Light',
    '400Regular',
    '500Medium',
    '600SemiBold',
    '700Bold',
    '800ExtraBold',
    '900Black',
  ];
  return weights.map((weight) => path.join(folder, weight, `Archivo_${weight}.ttf`));
}

/** Family of the fonts above. */
export const SHIPPED_FONT_FAMILY = 'Archivo';

/** Bytes of the font that labels are set in. */
export function labelFontBytes(): ArrayBuffer {
  const file = fontFiles().find((each) => each.includes('500Medium'))!;
  const bytes = readFileSync(file);
  return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
}

/** The compiled kernels. */
export function kernelModule(): WebAssembly.Module {
  return new WebAssembly.Module(readFileSync(path.join(projectRoot(), 'public/kernels.wasm')));
}
