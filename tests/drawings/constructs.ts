/** Small legal drawings, one for each construct of SVG 1.1 that changes what is painted (and the blend modes of CSS), made by code. */

export interface Construct {
  readonly name: string;
  readonly svg: string;
}

export const BLENDS = [
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
];

export function page(
  body: string,
  defs = '',
  size = 'width="200" height="160" viewBox="0 0 200 160"',
): string {
  return `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${size}>${
    defs ? `<defs>${defs}</defs>` : ''
  }${body}</svg>`;
}

const STAR = 'M100 20L130 110L50 55L150 55L70 110Z';
const BLOB = 'M30 80C30 20 90 10 110 50S190 60 170 110S60 150 40 120Q20 100 30 80Z';
const STOPS =
  '<stop offset=".1" stop-color="#c8382e"/><stop offset=".5" stop-color="#f2e8c0"/><stop offset=".9" stop-color="#1c5a7a"/>';
const CLEAR_STOPS =
  '<stop offset="0" stop-color="#c8382e" stop-opacity="1"/><stop offset="1" stop-color="#1c5a7a" stop-opacity=".2"/>';
const TILE = '<rect width="10" height="10" fill="#e4502f"/><circle cx="14" cy="14" r="5" fill="#1e6f8c"/>';

function* shapes(): Generator<Construct> {
  const make = (name: string, body: string) => ({ name: `shape: ${name}`, svg: page(body) });
  yield make('rectangle', '<rect x="20.3" y="15.7" width="120.4" height="90.1" fill="#3f8f5b"/>');
  yield make(
    'rounded rectangle',
    '<rect x="20" y="15" width="120" height="90" rx="30" ry="14" fill="#3f8f5b"/>',
  );
  yield make('circle', '<circle cx="90" cy="80" r="61.4" fill="#e4502f"/>');
  yield make(
    'ellipse',
    '<ellipse cx="90" cy="80" rx="70" ry="31" fill="#1e6f8c" transform="rotate(23 90 80)"/>',
  );
  yield make('star, nonzero', `<path d="${STAR}" fill="#f2b134"/>`);
  yield make('star, even-odd', `<path d="${STAR}" fill="#f2b134" fill-rule="evenodd"/>`);
  yield make('curves', `<path d="${BLOB}" fill="#0d1420"/>`);
  yield make(
    'arcs',
    '<path d="M20 80A60 40 30 1 1 150 90A30 30 0 0 0 90 100A60 20 -20 0 1 20 80" fill="#b3262e"/>',
  );
  yield make('polygon', '<polygon points="20,20 180,40 120,150 60,90" fill="#2f7f86"/>');
  yield make('open line, filled', '<polyline points="20,20 180,40 120,150 60,90" fill="#2f7f86"/>');
  yield make(
    'holes turned both ways',
    '<path d="M20 20H180V140H20ZM50 40V120H90V40ZM110 40H150V120H110Z" fill="#1c2f55"/>',
  );
  yield make('far beyond the page', '<path d="M-9000 -3000L9000 4000L-9000 4000Z" fill="#b4bbc9"/>');
  yield make(
    'relative and short forms',
    '<path d="m20 20h50v30l20-10q10 20 30 0t30 10c0 10 10 20 0 30s-5 20-20 20z" fill="#77aa33"/>',
  );
  yield make(
    'skewed',
    '<rect x="40" y="30" width="60" height="60" fill="#9a7b56" transform="skewX(20) skewY(-8)"/>',
  );
  yield make('mirrored', `<path d="${BLOB}" fill="#5c248c" transform="matrix(-1 0 0 1 200 0)"/>`);
  yield make(
    'half transparent, one over another',
    '<rect x="20" y="20" width="90" height="90" fill="#e4502f" fill-opacity=".5"/><rect x="70" y="50" width="90" height="90" fill="#1e6f8c" fill-opacity=".4"/>',
  );
  yield make(
    'hidden',
    '<rect x="20" y="20" width="90" height="90" visibility="hidden"/><rect x="60" y="60" width="40" height="40" fill="#333" /><g display="none"><rect width="200" height="160"/></g>',
  );
  yield make(
    'colours in words',
    '<rect width="60" height="60" fill="rebeccapurple"/><rect x="70" width="60" height="60" fill="rgb(10%,50%,90%)"/><rect x="140" width="60" height="60" fill="#fa3"/><g color="teal"><rect y="70" width="60" height="60" fill="currentColor"/></g>',
  );
  yield make(
    'a style sheet',
    '<style>.a{fill:#c8382e}rect.b{fill:#2f7f86;stroke:#111;stroke-width:4}#c{fill:#f2b134}</style><rect class="a" x="10" y="10" width="50" height="50"/><rect class="b" x="70" y="10" width="50" height="50"/><circle id="c" cx="90" cy="110" r="30"/>',
  );
}

function* strokes(): Generator<Construct> {
  const make = (name: string, style: string, d = 'M30 120L70 30L110 120L150 40') => ({
    name: `stroke: ${name}`,
    svg: page(`<path d="${d}" fill="none" stroke="#1c2f55" ${style}/>`),
  });
  for (const join of ['miter', 'round', 'bevel']) {
    for (const cap of ['butt', 'round', 'square']) {
      yield make(
        `${join} joins, ${cap} caps`,
        `stroke-width="16" stroke-linejoin="${join}" stroke-linecap="${cap}"`,
      );
    }
  }
  yield make('miters that are cut', 'stroke-width="14" stroke-miterlimit="1.5"');
  yield make('miters that are long', 'stroke-width="10" stroke-miterlimit="20"', 'M20 80L180 70L20 60');
  for (const width of [0.7, 1.5, 3, 30]) yield make(`${width} wide curve`, `stroke-width="${width}"`, BLOB);
  yield make('a cusp', 'stroke-width="12"', 'M40 120C180 20 20 20 160 120');
  yield make('doubling back', 'stroke-width="12" stroke-linejoin="round"', 'M40 80H150H60');
  yield make('closed', 'stroke-width="12"', 'M40 40H150V120H40Z');
  yield make(
    'points with round caps',
    'stroke-width="20" stroke-linecap="round"',
    'M50 50h0M100 50h0M150 50l0 0',
  );
  yield make('dashes', 'stroke-width="8" stroke-dasharray="18 7"', BLOB);
  yield make(
    'dashes with round caps',
    'stroke-width="8" stroke-dasharray="12 14" stroke-linecap="round"',
    BLOB,
  );
  yield make(
    'dashes, odd and moved',
    'stroke-width="6" stroke-dasharray="20 5 3" stroke-dashoffset="11"',
    'M20 30H180V130H20Z',
  );
  yield make(
    'dashes moved back',
    'stroke-width="6" stroke-dasharray="15 9" stroke-dashoffset="-7"',
    'M20 30H180V130H20Z',
  );
  yield make('dots', 'stroke-width="8" stroke-dasharray="0 14" stroke-linecap="round"', 'M20 30H180V130H20Z');
  yield {
    name: 'stroke: stretched',
    svg: page(
      '<g transform="scale(3 .6)"><circle cx="32" cy="130" r="22" fill="none" stroke="#b3262e" stroke-width="9"/></g>',
    ),
  };
  yield {
    name: 'stroke: below the fill',
    svg: page(
      '<circle cx="100" cy="80" r="50" fill="#f2b134" stroke="#1c2f55" stroke-width="20" style="paint-order:stroke"/>',
    ),
  };
  yield {
    name: 'stroke: half transparent over the fill',
    svg: page(
      '<circle cx="100" cy="80" r="50" fill="#f2b134" stroke="#1c2f55" stroke-width="20" stroke-opacity=".5"/>',
    ),
  };
  yield {
    name: 'stroke: ellipse and lines',
    svg: page(
      '<ellipse cx="90" cy="60" rx="60" ry="30" fill="none" stroke="#3f8f5b" stroke-width="7"/><line x1="10" y1="120" x2="190" y2="140" stroke="#e4502f" stroke-width="5"/>',
    ),
  };
}

function* gradients(): Generator<Construct> {
  const fill = `<path d="${BLOB}" fill="url(#g)"/>`;
  for (const spread of ['pad', 'reflect', 'repeat']) {
    yield {
      name: `gradient: linear by the box, ${spread}`,
      svg: page(
        fill,
        `<linearGradient id="g" x1=".3" x2=".6" y1=".2" y2=".5" spreadMethod="${spread}">${STOPS}</linearGradient>`,
      ),
    };
    yield {
      name: `gradient: linear in units, ${spread}`,
      svg: page(
        fill,
        `<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="60" x2="110" y1="30" y2="90" spreadMethod="${spread}">${STOPS}</linearGradient>`,
      ),
    };
    yield {
      name: `gradient: radial by the box, ${spread}`,
      svg: page(
        fill,
        `<radialGradient id="g" cx=".4" cy=".5" r=".3" spreadMethod="${spread}">${STOPS}</radialGradient>`,
      ),
    };
    yield {
      name: `gradient: radial with a focus, ${spread}`,
      svg: page(
        fill,
        `<radialGradient id="g" gradientUnits="userSpaceOnUse" cx="100" cy="80" r="60" fx="80" fy="65" spreadMethod="${spread}">${STOPS}</radialGradient>`,
      ),
    };
  }
  yield {
    name: 'gradient: turned',
    svg: page(
      fill,
      `<linearGradient id="g" gradientTransform="rotate(40) scale(.7)">${STOPS}</linearGradient>`,
    ),
  };
  yield {
    name: 'gradient: radial, squeezed',
    svg: page(
      fill,
      `<radialGradient id="g" gradientTransform="translate(0 .25) scale(1 .5)">${STOPS}</radialGradient>`,
    ),
  };
  yield {
    name: 'gradient: transparent',
    svg: page(
      `<rect y="60" width="200" height="30" fill="#333"/>${fill}`,
      `<linearGradient id="g">${CLEAR_STOPS}</linearGradient>`,
    ),
  };
  yield {
    name: 'gradient: by reference',
    svg: page(
      fill,
      `<linearGradient id="s">${STOPS}</linearGradient><linearGradient id="g" xlink:href="#s" y2="1"/>`,
    ),
  };
  yield {
    name: 'gradient: hard stops',
    svg: page(
      fill,
      '<linearGradient id="g"><stop offset=".3" stop-color="#c8382e"/><stop offset=".3" stop-color="#fff6df"/><stop offset=".7" stop-color="#fff6df"/><stop offset=".7" stop-color="#1c2f55"/></linearGradient>',
    ),
  };
  yield {
    name: 'gradient: one stop',
    svg: page(fill, '<linearGradient id="g"><stop offset=".3" stop-color="#c8382e"/></linearGradient>'),
  };
  yield {
    name: 'gradient: stops out of order',
    svg: page(
      fill,
      '<linearGradient id="g"><stop offset=".6" stop-color="#c8382e"/><stop offset=".2" stop-color="#1c2f55"/><stop offset="1" stop-color="#fff6df"/></linearGradient>',
    ),
  };
  yield {
    name: 'gradient: on a stroke',
    svg: page(
      `<path d="${BLOB}" fill="none" stroke="url(#g)" stroke-width="14"/>`,
      `<linearGradient id="g" y2="1">${STOPS}</linearGradient>`,
    ),
  };
  yield {
    name: 'gradient: without a shape to fall back on',
    svg: page('<rect x="20" y="20" width="90" height="90" fill="url(#none) #3f8f5b"/>'),
  };
}

function* patterns(): Generator<Construct> {
  const make = (
    name: string,
    attributes: string,
    content = TILE,
    body = `<path d="${BLOB}" fill="url(#p)"/>`,
  ) => ({
    name: `pattern: ${name}`,
    svg: page(body, `<pattern id="p" ${attributes}>${content}</pattern>`),
  });
  yield make('in units', 'width="20" height="20" patternUnits="userSpaceOnUse"');
  yield make('in units, moved', 'x="7" y="3" width="20" height="20" patternUnits="userSpaceOnUse"');
  yield make('by the box', 'width=".2" height=".25"');
  yield make(
    'turned',
    'width="20" height="20" patternUnits="userSpaceOnUse" patternTransform="rotate(30) scale(1.3 .8)"',
  );
  yield make('with a view box', 'width="30" height="24" patternUnits="userSpaceOnUse" viewBox="0 0 20 20"');
  yield make(
    'with a view box, stretched',
    'width="30" height="18" patternUnits="userSpaceOnUse" viewBox="0 0 20 20" preserveAspectRatio="none"',
  );
  yield make(
    'content by the box',
    'width=".25" height=".25" patternContentUnits="objectBoundingBox"',
    '<rect width=".1" height=".12" fill="#e4502f"/>',
  );
  yield make(
    'content larger than its cell',
    'width="16" height="16" patternUnits="userSpaceOnUse"',
    '<circle cx="8" cy="8" r="11" fill="#1e6f8c"/>',
  );
  yield make(
    'half transparent',
    'width="20" height="20" patternUnits="userSpaceOnUse"',
    TILE,
    `<rect width="200" height="60" fill="#fff6df"/><path d="${BLOB}" fill="url(#p)" fill-opacity=".6"/>`,
  );
  yield make(
    'on a stroke',
    'width="12" height="12" patternUnits="userSpaceOnUse"',
    TILE,
    `<path d="${BLOB}" fill="none" stroke="url(#p)" stroke-width="20"/>`,
  );
  yield {
    name: 'pattern: in a pattern',
    svg: page(
      `<path d="${BLOB}" fill="url(#p)"/>`,
      '<pattern id="q" width="5" height="5" patternUnits="userSpaceOnUse"><rect width="3" height="3" fill="#b3262e"/></pattern><pattern id="p" width="30" height="30" patternUnits="userSpaceOnUse"><rect width="20" height="20" fill="url(#q)"/><circle cx="24" cy="24" r="5" fill="#1c2f55"/></pattern>',
    ),
  };
}

function* clips(): Generator<Construct> {
  const body = '<rect width="200" height="160" fill="#f2b134" clip-path="url(#c)"/>';
  const make = (name: string, defs: string, content = body) => ({
    name: `clip: ${name}`,
    svg: page(content, defs),
  });
  yield make('circle', '<clipPath id="c"><circle cx="90" cy="80" r="60"/></clipPath>');
  yield make(
    'several shapes',
    '<clipPath id="c"><circle cx="60" cy="60" r="40"/><rect x="80" y="70" width="80" height="50"/></clipPath>',
  );
  yield make('even-odd', `<clipPath id="c"><path d="${STAR}" clip-rule="evenodd"/></clipPath>`);
  yield make(
    'by the box',
    '<clipPath id="c" clipPathUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".4"/></clipPath>',
  );
  yield make(
    'moved',
    '<clipPath id="c" transform="rotate(20 100 80)"><rect x="40" y="40" width="90" height="60"/></clipPath>',
  );
  yield make(
    'on a clip',
    '<clipPath id="d"><rect x="50" y="0" width="70" height="160"/></clipPath><clipPath id="c" clip-path="url(#d)"><circle cx="90" cy="80" r="60"/></clipPath>',
  );
  yield make(
    'on a shape of a clip',
    '<clipPath id="d"><rect x="50" y="0" width="40" height="160"/></clipPath><clipPath id="c"><circle cx="90" cy="80" r="60" clip-path="url(#d)"/><rect x="130" y="20" width="30" height="30"/></clipPath>',
  );
  yield make(
    'of a group with opacity',
    '<clipPath id="c"><circle cx="90" cy="80" r="60"/></clipPath>',
    `<g clip-path="url(#c)" opacity=".5">${STAR ? `<path d="${STAR}" fill="#c8382e"/><rect x="60" y="60" width="120" height="40" fill="#1e6f8c"/>` : ''}</g>`,
  );
  yield make(
    'empty: nothing shows',
    '<clipPath id="c"/>',
    `${body}<rect width="20" height="20" fill="#333"/>`,
  );
  yield make(
    'with text of no size',
    '<clipPath id="c"><path d="M0 0"/></clipPath>',
    `${body}<rect width="20" height="20" fill="#333"/>`,
  );
  yield make(
    'a use',
    '<circle id="k" cx="90" cy="80" r="50"/><clipPath id="c"><use xlink:href="#k" x="10"/></clipPath>',
  );
}

function* masks(): Generator<Construct> {
  const body = '<rect width="200" height="160" fill="#c8382e" mask="url(#m)"/>';
  const make = (name: string, defs: string, content = body) => ({
    name: `mask: ${name}`,
    svg: page(content, defs),
  });
  yield make(
    'white and grey',
    '<mask id="m"><circle cx="70" cy="80" r="50" fill="#fff"/><circle cx="130" cy="80" r="40" fill="#808080"/></mask>',
  );
  yield make(
    'of colours',
    '<mask id="m"><rect x="20" y="20" width="50" height="120" fill="#f00"/><rect x="70" y="20" width="50" height="120" fill="#0f0"/><rect x="120" y="20" width="50" height="120" fill="#00f"/></mask>',
  );
  yield make(
    'transparent',
    '<mask id="m"><circle cx="90" cy="80" r="60" fill="#fff" fill-opacity=".4"/></mask>',
  );
  yield make(
    'of an area',
    '<mask id="m" maskUnits="userSpaceOnUse" x="50" y="40" width="70" height="60"><rect width="200" height="160" fill="#fff"/></mask>',
  );
  yield make(
    'by the box',
    '<mask id="m" maskContentUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".3" fill="#fff"/></mask>',
  );
  yield make(
    'with a gradient',
    `<linearGradient id="g"><stop offset="0" stop-color="#000"/><stop offset="1" stop-color="#fff"/></linearGradient><mask id="m"><rect width="200" height="160" fill="url(#g)"/></mask>`,
  );
  yield make(
    'on a mask',
    '<mask id="n"><rect width="110" height="160" fill="#fff"/></mask><mask id="m" mask="url(#n)"><circle cx="90" cy="80" r="60" fill="#fff"/></mask>',
  );
  yield make(
    'by opacity',
    '<mask id="m" style="mask-type:alpha"><circle cx="90" cy="80" r="60" fill="#000" fill-opacity=".7"/></mask>',
  );
  yield make(
    'of a group',
    '<mask id="m"><circle cx="90" cy="80" r="60" fill="#fff"/></mask>',
    `<g mask="url(#m)"><path d="${STAR}" fill="#f2b134"/><rect x="60" y="60" width="120" height="40" fill="#1e6f8c"/></g>`,
  );
}

function* groups(): Generator<Construct> {
  const pair =
    '<rect x="30" y="30" width="80" height="80" fill="#e4502f"/><circle cx="110" cy="90" r="45" fill="#1e6f8c"/>';
  yield { name: 'group: opacity', svg: page(`<g opacity=".5">${pair}</g>`) };
  yield {
    name: 'group: opacity in opacity',
    svg: page(
      `<rect y="70" width="200" height="20" fill="#333"/><g opacity=".7"><g opacity=".5">${pair}</g><rect x="140" y="20" width="40" height="40" fill="#3f8f5b"/></g>`,
    ),
  };
  for (const mode of BLENDS) {
    yield {
      name: `blend: ${mode}`,
      svg: page(
        `<rect width="200" height="80" fill="#7fa0b8"/><rect y="80" width="120" height="50" fill="#f2b134"/><circle cx="90" cy="75" r="55" fill="#c8483e" style="mix-blend-mode:${mode}"/>`,
      ),
    };
  }
  yield {
    name: 'blend: only inside an isolated group',
    svg: page(
      `<rect width="200" height="160" fill="#f2b134"/><g style="isolation:isolate"><rect x="20" y="20" width="90" height="90" fill="#7fa0b8"/><circle cx="110" cy="90" r="45" fill="#c8483e" style="mix-blend-mode:multiply"/></g>`,
    ),
  };
  yield {
    name: 'blend: a half transparent group',
    svg: page(
      `<rect width="200" height="90" fill="#f2b134"/><g opacity=".6" style="mix-blend-mode:multiply">${pair}</g>`,
    ),
  };
}

function* structure(): Generator<Construct> {
  yield {
    name: 'use: moved and turned',
    svg: page(
      '<use xlink:href="#s" x="20" y="10"/><use href="#s" transform="translate(150 20) rotate(30) scale(.6)"/>',
      '<g id="s"><rect width="50" height="50" fill="#e4502f"/><circle cx="50" cy="50" r="25" fill="#1e6f8c"/></g>',
    ),
  };
  yield {
    name: 'use: inherits',
    svg: page(
      '<use xlink:href="#s" fill="#3f8f5b" x="10"/><use xlink:href="#s" fill="#b3262e" x="90" stroke="#111" stroke-width="4"/>',
      '<rect id="s" y="20" width="60" height="60"/>',
    ),
  };
  yield {
    name: 'symbol: in a box',
    svg: page(
      '<use xlink:href="#s" x="20" y="20" width="120" height="60"/>',
      '<symbol id="s" viewBox="0 0 40 40"><circle cx="20" cy="20" r="26" fill="#2f7f86"/></symbol>',
    ),
  };
  yield {
    name: 'svg in svg',
    svg: page(
      '<svg x="30" y="20" width="120" height="90" viewBox="0 0 10 10"><circle cx="5" cy="5" r="7" fill="#9a7b56"/></svg>',
    ),
  };
  yield {
    name: 'svg in svg, sliced',
    svg: page(
      '<svg x="30" y="20" width="120" height="60" viewBox="0 0 10 10" preserveAspectRatio="xMinYMax slice"><circle cx="5" cy="5" r="4" fill="#9a7b56"/></svg>',
    ),
  };
  yield {
    name: 'switch',
    svg: page(
      '<switch><rect systemLanguage="xx" width="200" height="160" fill="#f00"/><rect x="40" y="40" width="80" height="60" fill="#3f8f5b"/></switch>',
    ),
  };
  yield {
    name: 'page: of another shape than its view box',
    svg: page(
      '<rect x="-40" y="10" width="300" height="60" fill="#1e6f8c"/><circle cx="100" cy="80" r="50" fill="#f2b134"/>',
      '',
      'width="300" height="160" viewBox="0 0 200 160"',
    ),
  };
  yield {
    name: 'page: view box with an origin',
    svg: page(
      '<circle cx="0" cy="0" r="50" fill="#f2b134"/>',
      '',
      'width="200" height="160" viewBox="-100 -80 200 160"',
    ),
  };
  yield {
    name: 'page: stretched',
    svg: page(
      '<circle cx="50" cy="50" r="40" fill="#f2b134"/>',
      '',
      'width="200" height="160" viewBox="0 0 100 100" preserveAspectRatio="none"',
    ),
  };
  const marker = (attributes: string, content = '<path d="M0 0L8 4L0 8Z" fill="#b3262e"/>') =>
    `<marker id="k" markerWidth="8" markerHeight="8" refX="4" refY="4" ${attributes}>${content}</marker>`;
  const line =
    '<path d="M30 120L80 40L130 110L170 50" fill="none" stroke="#1c2f55" stroke-width="3" marker-start="url(#k)" marker-mid="url(#k)" marker-end="url(#k)"/>';
  yield { name: 'marker: turned with the line', svg: page(line, marker('orient="auto"')) };
  yield { name: 'marker: at an angle', svg: page(line, marker('orient="30"')) };
  yield {
    name: 'marker: in units of the page',
    svg: page(line, marker('orient="auto" markerUnits="userSpaceOnUse"')),
  };
  yield {
    name: 'marker: with a view box',
    svg: page(
      line,
      marker('orient="auto" viewBox="0 0 4 4"', '<circle cx="2" cy="2" r="2" fill="#e4502f"/>').replace(
        'refX="4" refY="4"',
        'refX="2" refY="2"',
      ),
    ),
  };
  yield {
    name: 'marker: larger than its box',
    svg: page(line, marker('orient="auto"', '<circle cx="4" cy="4" r="7" fill="#e4502f"/>')),
  };
}

function* filters(): Generator<Construct> {
  const blur = '<filter id="f"><feGaussianBlur stdDeviation="4"/></filter>';
  const shadow =
    '<filter id="f" x="-.3" y="-.3" width="1.8" height="1.8"><feGaussianBlur in="SourceAlpha" stdDeviation="4"/><feOffset dx="8" dy="8"/><feMerge><feMergeNode/><feMergeNode in="SourceGraphic"/></feMerge></filter>';
  const drop =
    '<filter id="f"><feDropShadow dx="6" dy="7" stdDeviation="3" flood-color="#1e6f8c" flood-opacity=".8"/></filter>';
  const body = `<g filter="url(#f)"><rect x="40" y="30" width="90" height="60" fill="#e4502f"/><circle cx="120" cy="90" r="30" fill="#f2b134"/></g>`;
  yield { name: 'filter: a blur', svg: page(body, blur) };
  yield { name: 'filter: a shadow below the group', svg: page(body, shadow) };
  yield {
    name: 'filter: a shadow, turned and faint',
    svg: page(`<g transform="rotate(20 100 80)" opacity=".7">${body}</g>`, shadow),
  };
  yield { name: 'filter: a drop shadow', svg: page(body, drop) };
  yield {
    name: 'filter: colours turned',
    svg: page(
      body,
      '<filter id="f"><feColorMatrix type="hueRotate" values="90" color-interpolation-filters="sRGB"/></filter>',
    ),
  };
}

/** All of them. */
export function constructs(): Construct[] {
  return [
    ...shapes(),
    ...strokes(),
    ...gradients(),
    ...patterns(),
    ...clips(),
    ...masks(),
    ...groups(),
    ...structure(),
    ...filters(),
  ];
}
