// Compiles the AssemblyScript kernels to WebAssembly when their sources are newer than the result.
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const source = path.join(root, 'src/kernels/assembly');
const target = path.join(root, 'public/kernels.wasm');

const newest = Math.max(...readdirSync(source).map((name) => statSync(path.join(source, name)).mtimeMs));
if (!existsSync(target) || statSync(target).mtimeMs < newest) {
  mkdirSync(path.dirname(target), { recursive: true });
  execFileSync(
    process.execPath,
    [
      path.join(root, 'node_modules/assemblyscript/bin/asc.js'),
      path.join(source, 'index.ts'),
      '-O3',
      '--noAssert',
      '--enable',
      'simd',
      '--enable',
      'bulk-memory',
      '--runtime',
      'stub',
      '--importMemory',
      '--outFile',
      target,
    ],
    { stdio: 'inherit' },
  );
}
