// Imports go downhill: each folder may reach only the folders named beside it.
const MAY_IMPORT = {
  'core/units': [],
  'core/geometry': ['core/units'],
  'core/colour': ['core/units'],
  'core/raster': ['core/units', 'core/geometry'],
  'core/solving': ['core/units', 'core/colour'],
  'core/stages': ['core/units', 'core/raster', 'core/tone'],
  'core/sheet': ['core/units', 'core/stages'],
  'core/artwork': ['core/units', 'core/geometry', 'core/colour', 'core/raster'],
  'core/drawing': ['core/units', 'core/geometry', 'core/colour', 'core/artwork'],
  'core/separation': [
    'core/units',
    'core/geometry',
    'core/colour',
    'core/raster',
    'core/artwork',
    'core/stages',
    'core/sheet',
  ],
  'core/cleaning': ['core/units', 'core/colour', 'core/raster', 'core/artwork', 'core/separation'],
  'core/texture': ['core/units', 'core/geometry', 'core/raster', 'core/sheet'],
  'core/fit': [
    'core/units',
    'core/geometry',
    'core/colour',
    'core/raster',
    'core/stages',
    'core/sheet',
    'core/separation',
  ],
  'core/screening': ['core/units', 'core/raster'],
  'core/formats': ['core/units', 'core/geometry', 'core/colour', 'core/raster'],
  'core/kernels': ['core/raster', 'core/drawing', 'core/screening', 'core/formats', 'core/solving'],
  'core/tone': ['core/units'],
  'core/press': ['core/units', 'core/sheet'],
  'core/film': ['core/units', 'core/geometry', 'core/sheet', 'core/separation'],
  'core/checks': [
    'core/units',
    'core/colour',
    'core/artwork',
    'core/sheet',
    'core/separation',
    'core/fit',
    'core/texture',
    'core/screening',
    'core/film',
    'core/press',
  ],
  'core/pipeline': ['core/'],
  protocol: ['core/'],
  server: ['core/', 'protocol'],
  worker: ['core/', 'protocol', 'server'],
  cli: ['core/', 'protocol', 'server'],
  demo: ['core/', 'protocol', 'server'],
  browser: ['core/', 'protocol'],
  ui: ['core/', 'protocol', 'browser'],
  app: ['ui', 'server', 'protocol', 'core/units', 'core/film', 'core/separation'],
};

const folders = Object.entries(MAY_IMPORT).map(([folder, allowed]) => ({
  name: `downhill-from-${folder.replace('/', '-')}`,
  severity: 'error',
  comment: `${folder} may import ${allowed.join(', ') || 'nothing'} of this project`,
  from: { path: `^src/${folder}/`, pathNot: '\\.test\\.ts$' },
  to: { path: '^src/', pathNot: [`^src/${folder}/`, ...allowed.map((each) => `^src/${each}`)] },
}));

/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
  forbidden: [
    ...folders,
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    ...Object.keys(MAY_IMPORT)
      .filter((folder) => folder.startsWith('core/'))
      .map((folder) => ({
        name: `by-the-door-of-${folder.replace('/', '-')}`,
        severity: 'error',
        comment: `Other folders import ${folder} by its index only.`,
        from: { path: '^src/', pathNot: `^src/${folder}/` },
        to: { path: `^src/${folder}/(?!index\\.ts$)` },
      })),
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: false,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: 'assembly' },
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.js', '.mjs'] },
  },
};
