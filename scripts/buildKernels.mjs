// Compiles the AssemblyScript kernels to WebAssembly when their sources are newer than the result. What core and kernels share is written from one of them
// for the other: the core's values for the kernels, the kernels' exports for the core.
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const source = path.join(root, 'src/kernels/assembly');
const codes = ['src/core/raster/codes.ts', 'src/core/solving/codes.ts'];
const target = path.join(root, 'public/kernels.wasm');

/** Leaves a file that is right already alone, with its date. */
function write(file, text) {
  if (!existsSync(file) || readFileSync(file, 'utf8') !== text) writeFileSync(file, text);
}

const values = codes.flatMap((file) => [
  ...readFileSync(path.join(root, file), 'utf8').matchAll(/^export const (\w+) = (\d+);$/gm),
]);
write(
  path.join(source, 'shared.ts'),
  [
    `// Written by scripts/buildKernels.mjs from ${codes.join(' and ')}, where each value is explained.`,
    ...values.map(([, name, value]) => `export const ${name}: i32 = ${value};`),
    '',
  ].join('\n'),
);

const files = readdirSync(source).filter((name) => name.endsWith('.ts'));
const exported = new Set(
  [...readFileSync(path.join(source, 'index.ts'), 'utf8').matchAll(/export \{([^}]*)\}/g)].flatMap(
    ([, names]) =>
      names
        .split(',')
        .map((name) => name.trim())
        .filter(Boolean),
  ),
);
const signatures = files.flatMap((name) =>
  [...readFileSync(path.join(source, name), 'utf8').matchAll(/^export function (\w+)\(([^)]*)\): (\w+) \{/gm)]
    .filter(([, kernel]) => exported.has(kernel))
    .map(([, kernel, parameters, result]) => ({
      kernel,
      parameters: parameters
        .split(',')
        .map((each) => each.trim().split(':')[0])
        .filter(Boolean),
      result: result === 'void' ? 'void' : 'number',
    })),
);
const missing = [...exported].filter((name) => !signatures.some(({ kernel }) => kernel === name));
if (missing.length > 0) throw new Error(`No signature was found of the kernels ${missing.join(', ')}.`);
write(
  path.join(root, 'src/core/kernels/exports.ts'),
  [
    '// Written by scripts/buildKernels.mjs from src/kernels/assembly, where each kernel is explained.',
    '',
    '/** What the compiled module offers; every number is an address or a count unless its name says otherwise. */',
    'export interface KernelExports {',
    ...signatures
      .sort((p, q) => (p.kernel < q.kernel ? -1 : 1))
      .flatMap(({ kernel, parameters, result }) => [
        `  ${kernel}(`,
        ...parameters.map((name) => `    ${name}: number,`),
        `  ): ${result};`,
      ]),
    '}',
    '',
  ].join('\n'),
);

const newest = Math.max(...files.map((name) => statSync(path.join(source, name)).mtimeMs));
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
