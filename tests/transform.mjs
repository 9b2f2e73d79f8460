// The transform of the unit tests: @swc/jest, and a line that binds what hot loops use of the globals. Jest runs modules in a context of its own, where each look-up of a global
// goes through an interceptor: bound in the module it costs nothing, and kernels in plain TypeScript run several times faster.
import swc from '@swc/jest';

const GLOBALS = [
  'Math',
  'Number',
  'Array',
  'Map',
  'Set',
  'Uint8Array',
  'Uint8ClampedArray',
  'Uint16Array',
  'Uint32Array',
  'Int32Array',
  'Float32Array',
  'Float64Array',
  'Infinity',
  'NaN',
];

const inner = swc.createTransformer({
  jsc: { parser: { syntax: 'typescript', tsx: true }, target: 'es2022' },
  module: { type: 'es6' },
});

/** Names that a module does not declare itself. */
function bound(code) {
  const free = GLOBALS.filter((name) => new RegExp(`\\b${name}\\b`).test(code));
  return free.length === 0 ? code : `const { ${free.join(', ')} } = globalThis; ${code}`;
}

function withGlobals(result) {
  return typeof result === 'string' ? bound(result) : { ...result, code: bound(result.code) };
}

export default {
  ...inner,
  process: (...given) => withGlobals(inner.process(...given)),
  processAsync: async (...given) => withGlobals(await inner.processAsync(...given)),
  getCacheKey: (...given) => `${inner.getCacheKey(...given)}globals`,
};
