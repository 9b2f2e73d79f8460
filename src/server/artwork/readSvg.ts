import { formatHex, formatHex8, parse } from 'culori';
import { SaxesParser, type SaxesTagPlain } from 'saxes';
import { KerameusError } from '@/core/units';
import { SHIPPED_FONT_FAMILY } from '../projectRoot';

/** An SVG that was found safe, made ready for rendering parts of it. */
export interface SvgArtwork {
  /** Size in user units of the drawing as a whole. */
  readonly width: number;
  readonly height: number;
  /** Whether the file states its size in millimetres, inches or points; pixels are no size of a print. */
  readonly statesSize: boolean;
  /** Size in millimetres, from 96 px to the inch where that is all there is. */
  readonly widthMm: number;
  readonly heightMm: number;
  /** Attributes of the root, as written, without its size. */
  readonly rootAttributes: string;
  readonly viewBox: string;
  /** How the view box lies in the drawing's size, as `preserveAspectRatio` says it. */
  readonly aspect: string;
  readonly hasText: boolean;
  /** What stands inside the root. */
  readonly content: string;
  /** Font families that are asked for and do not ship. */
  readonly missingFonts: readonly string[];
  /** Raster pictures inside the drawing. */
  readonly pictures: readonly Buffer[];
  /** Radial gradients that begin at a circle instead of a point: its radius, by the gradient's id. */
  readonly firstRadii: ReadonlyMap<string, number>;
}

const MAX_BYTES = 40e6;
const MAX_ELEMENTS = 400_000;
const MAX_EXPANDED = 1_000_000;
/** Elements that clips, masks, patterns, markers and filters bring in, each time that they are referred to. */
const MAX_REFERRED = 20_000_000;
/** Letters that entities may become in all. */
const MAX_ENTITY_LETTERS = 20e6;
const MAX_DEPTH = 200;
/** References that lead from one to the next. */
const MAX_CHAIN = 60;
const GENERIC_FONTS = new Set([
  'serif',
  'sans-serif',
  'monospace',
  'cursive',
  'fantasy',
  'system-ui',
  'inherit',
  'initial',
]);

function refuse(message: string, remedy: string): KerameusError {
  return new KerameusError({ code: 'svg-refused', parameter: 'artwork', message, remedy });
}

interface Scan {
  readonly rootTag: SaxesTagPlain;
  readonly contentFrom: number;
  readonly contentTo: number;
  readonly fonts: Set<string>;
  readonly pictures: Buffer[];
  readonly firstRadii: Map<string, number>;
}

/** Reads and checks an SVG. Throws KerameusError `svg-refused` when it is broken or reaches outside itself. */
export function readSvg(bytes: Uint8Array): SvgArtwork {
  if (bytes.length > MAX_BYTES) {
    throw refuse(
      `The SVG is ${Math.round(bytes.length / 1e6)} MB large.`,
      'Keep it below 40 MB, or export it as a PNG.',
    );
  }
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes).replace(/^\uFEFF/, '');
  } catch {
    throw refuse('The SVG is not in UTF-8.', 'Export it again in UTF-8.');
  }
  const source = expandEntities(text);
  const scan = scanSvg(source);
  const size = sizeOf(scan.rootTag);
  const kept = Object.entries(scan.rootTag.attributes).filter(
    ([name]) =>
      ![
        'width',
        'height',
        'x',
        'y',
        'viewBox',
        'preserveAspectRatio',
        'overflow',
        'version',
        'baseProfile',
      ].includes(name),
  );
  const missingFonts = [...scan.fonts].filter(
    (font) => font !== '' && font !== SHIPPED_FONT_FAMILY && !GENERIC_FONTS.has(font.toLowerCase()),
  );
  return {
    ...size,
    rootAttributes: kept.map(([name, value]) => `${name}="${escapeAttribute(value)}"`).join(' '),
    hasText: /<(?:[\w-]+:)?text[\s>]/.test(source),
    content: inOlderWords(withoutRenderingHints(source.slice(scan.contentFrom, scan.contentTo))),
    missingFonts,
    pictures: scan.pictures,
    firstRadii: scan.firstRadii,
  };
}

function escapeAttribute(value: string): string {
  return value.replace(/&/g, '&amp;').replace(/"/g, '&quot;').replace(/</g, '&lt;');
}

/** The drawing's own wish for smooth edges must not win over film edges, which are hard. */
function withoutRenderingHints(content: string): string {
  return content.replace(/\b(shape-rendering|text-rendering)(\s*[:=])/g, 'data-$1$2');
}

const COLOUR_VALUE =
  /\b(fill|stroke|color|stop-color|flood-color|lighting-color)(\s*[:=]\s*["']?\s*)((?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color)\([^()]*\)|rebeccapurple)/gi;

/**
 * Says in older words what the library that resolves drawings does not know and would leave out in silence: colours of CSS Color 4, and masks that go by
 * opacity where a style says so.
 */
function inOlderWords(content: string): string {
  return content
    .replace(COLOUR_VALUE, (whole, property: string, between: string, value: string) => {
      const colour = parse(value.toLowerCase());
      if (!colour) return whole;
      return `${property}${between}${(colour.alpha ?? 1) < 1 ? formatHex8(colour) : formatHex(colour)}`;
    })
    .replace(
      /(<(?:[\w-]+:)?mask\b)(?![^>]*\smask-type\s*=)(?=[^>]*mask-type\s*:\s*(alpha|luminance))/g,
      '$1 mask-type="$2"',
    );
}

/** Replaces entities that the document defines with plain text; refuses nested and external ones. */
function expandEntities(text: string): string {
  const doctype = /<!DOCTYPE[^[>]*(\[[\s\S]*?\]\s*)?>/.exec(text);
  if (!doctype) return text;
  const subset = doctype[1] ?? '';
  const entities = new Map<string, string>();
  const declared = subset.match(/<!ENTITY/g)?.length ?? 0;
  for (const match of subset.matchAll(/<!ENTITY\s+([\w.-]+)\s+(?:"([^"]*)"|'([^']*)')\s*>/g)) {
    const value = match[2] ?? match[3] ?? '';
    if (value.includes('&') || value.includes('%') || value.includes('<') || value.length > 2000) {
      throw refuse(
        'The SVG defines entities that contain others.',
        'Export it again without a DTD, as plain SVG.',
      );
    }
    entities.set(match[1]!, value);
  }
  if (entities.size !== declared) {
    throw refuse(
      'The SVG defines entities that lie outside the file.',
      'Export it again without a DTD, as plain SVG.',
    );
  }
  const body = text.slice(0, doctype.index) + text.slice(doctype.index + doctype[0].length);
  let letters = 0;
  return body.replace(/&([A-Za-z_][\w.-]*);/g, (whole, name: string) => {
    const value = entities.get(name);
    if (value === undefined) return whole;
    letters += value.length;
    if (letters > MAX_ENTITY_LETTERS)
      throw refuse(
        `The SVG's entities stand for more than ${MAX_ENTITY_LETTERS / 1e6} million letters.`,
        'Export it again as plain SVG.',
      );
    return value;
  });
}

function scanSvg(source: string): Scan {
  const parser = new SaxesParser({ xmlns: false, position: true });
  const fonts = new Set<string>();
  const pictures: Buffer[] = [];
  const firstRadii = new Map<string, number>();
  const guard = new ReferenceGuard();
  let rootTag: SaxesTagPlain | undefined;
  let contentFrom = 0;
  let contentTo = -1;
  let depth = 0;
  let elements = 0;
  let inStyle = 0;
  parser.on('error', (error) => {
    throw refuse(
      `The SVG is broken: ${error.message.replace(/^\d+:\d+:\s*/, '').replace(/\.$/, '')}.`,
      'Export it again; the file may be cut off.',
    );
  });
  parser.on('doctype', () => {
    throw refuse('The SVG has a document type that cannot be read.', 'Export it again as plain SVG.');
  });
  parser.on('processinginstruction', ({ target }) => {
    if (target.toLowerCase() !== 'xml') {
      if (/stylesheet/i.test(target)) {
        throw refuse(
          'The SVG asks for a style sheet outside itself.',
          'Export it again with its styles inside.',
        );
      }
    }
  });
  parser.on('opentag', (tag) => {
    elements++;
    depth++;
    const local = tag.name.replace(/^.*:/, '');
    if (!rootTag) {
      if (local !== 'svg') throw refuse('The file is XML, but not an SVG.', 'Export the artwork as SVG.');
      rootTag = tag;
      contentFrom = parser.position;
      if (tag.isSelfClosing) contentTo = contentFrom;
    }
    if (depth > MAX_DEPTH)
      throw refuse(`The SVG nests more than ${MAX_DEPTH} levels deep.`, 'Flatten its groups.');
    if (elements > MAX_ELEMENTS) {
      throw refuse(`The SVG has more than ${MAX_ELEMENTS} elements.`, 'Simplify it, or export it as a PNG.');
    }
    if (local === 'script') throw refuse('The SVG contains a script.', 'Export it again as a plain drawing.');
    // Programs keep data of their own in one that no viewer is to show: it asks for an extension that only they have.
    if (local === 'foreignObject' && !tag.attributes.requiredExtensions) {
      throw refuse(
        'The SVG contains a piece of a web page (foreignObject).',
        'Turn it into shapes and export again.',
      );
    }
    if (local === 'style') inStyle++;
    checkAttributes(tag, local, fonts, pictures);
    const { id, fr } = tag.attributes;
    if (local === 'radialGradient' && id && fr && Number(fr) > 0) firstRadii.set(id, Number(fr));
    guard.open(tag, local);
  });
  parser.on('closetag', (tag) => {
    depth--;
    guard.close();
    const local = tag.name.replace(/^.*:/, '');
    if (local === 'style') inStyle--;
    // The position is behind the closing tag; its own length is its name and three signs at least.
    if (depth === 0 && contentTo < 0) contentTo = source.lastIndexOf('</', parser.position);
  });
  const readStyle = (text: string): void => {
    if (inStyle > 0) checkStyle(text, fonts);
  };
  parser.on('text', readStyle);
  parser.on('cdata', readStyle);
  parser.write(source).close();
  if (!rootTag) throw refuse('The SVG has no drawing in it.', 'Export it again.');
  guard.finish();
  return { rootTag, contentFrom, contentTo, fonts, pictures, firstRadii };
}

const OUTSIDE = 'The SVG refers to something outside itself';
const EMBED = 'Embed pictures and styles in the file and export it again.';

function checkAttributes(tag: SaxesTagPlain, local: string, fonts: Set<string>, pictures: Buffer[]): void {
  for (const [name, value] of Object.entries(tag.attributes)) {
    const attribute = name.replace(/^.*:/, '');
    if (attribute === 'href' || attribute === 'src') {
      const target = value.trim();
      // A link around a shape leads somewhere but loads nothing.
      if (local === 'a' || target === '' || target.startsWith('#')) continue;
      pictures.push(embeddedPicture(target));
    } else if (attribute === 'style') checkStyle(value, fonts);
    else if (attribute === 'font-family') addFonts(value, fonts);
    else if (!name.startsWith('xmlns')) checkUrls(value);
    if (/^on[a-z]+$/i.test(attribute)) {
      throw refuse('The SVG contains a script.', 'Export it again as a plain drawing.');
    }
  }
}

function embeddedPicture(target: string): Buffer {
  const match = /^data:([^;,]*)(;base64)?,/i.exec(target);
  if (!match) throw refuse(`${OUTSIDE}: ${target.slice(0, 60)}.`, EMBED);
  const payload = target.slice(match[0].length);
  const bytes = match[2]
    ? Buffer.from(payload.replace(/\s+/g, ''), 'base64')
    : Buffer.from(decodeURIComponent(payload), 'latin1');
  const png = bytes.subarray(0, 4).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47]));
  const jpeg = bytes.subarray(0, 3).equals(Buffer.from([0xff, 0xd8, 0xff]));
  if (!png && !jpeg) {
    throw refuse('The SVG holds a picture that is neither PNG nor JPEG.', 'Embed it as one of these.');
  }
  return bytes;
}

function checkUrls(value: string): void {
  for (const match of value.matchAll(/url\(\s*(['"]?)([^'")]*)\1\s*\)?/gi)) {
    if (!match[2]!.trim().startsWith('#')) throw refuse(`${OUTSIDE}: ${match[2]!.slice(0, 60)}.`, EMBED);
  }
}

function checkStyle(css: string, fonts: Set<string>): void {
  // Escapes could hide a reference from this check; drawings have no need of them.
  if (/@import|@font-face|\\/i.test(css)) throw refuse(`${OUTSIDE} in its styles.`, EMBED);
  checkUrls(css);
  for (const match of css.matchAll(/font-family\s*:\s*([^;}]+)/gi)) addFonts(match[1]!, fonts);
}

function addFonts(value: string, fonts: Set<string>): void {
  const first = value
    .split(',')[0]!
    .trim()
    .replace(/^['"]|['"]$/g, '');
  fonts.add(first);
}

/** Follows references between parts of a drawing, so that none leads in a circle or multiplies without end. */
class ReferenceGuard {
  /** What each part with an id repeats (`use`), and what else it refers to (clips, masks, patterns and so on). */
  private readonly uses = new Map<string, string[]>();
  private readonly others = new Map<string, string[]>();
  private readonly sizes = new Map<string, number>();
  private readonly opened: { ids: string[] }[] = [];
  private readonly ids: string[] = [];
  private readonly allUses: string[] = [];
  private readonly allOthers: string[] = [];

  open(tag: SaxesTagPlain, local: string): void {
    const { id } = tag.attributes;
    const entry = { ids: [] as string[] };
    if (id) {
      entry.ids.push(id);
      this.ids.push(id);
      if (!this.uses.has(id)) {
        this.uses.set(id, []);
        this.others.set(id, []);
      }
    }
    this.opened.push(entry);
    for (const holder of this.ids) this.sizes.set(holder, (this.sizes.get(holder) ?? 0) + 1);
    for (const value of Object.values(tag.attributes)) {
      if (!value.includes('url(')) continue;
      for (const match of value.matchAll(/url\(\s*['"]?#([^'")]*)/gi)) {
        this.refer(this.others, this.allOthers, match[1]!.trim());
      }
    }
    const target = (tag.attributes.href ?? tag.attributes['xlink:href'] ?? '').trim();
    if (local === 'use') this.refer(this.uses, this.allUses, target.slice(1));
    else if (target.startsWith('#') && local !== 'a')
      this.refer(this.others, this.allOthers, target.slice(1));
  }

  private refer(from: Map<string, string[]>, all: string[], target: string): void {
    for (const holder of this.ids) from.get(holder)!.push(target);
    all.push(target);
  }

  close(): void {
    const entry = this.opened.pop();
    if (entry) for (let k = 0; k < entry.ids.length; k++) this.ids.pop();
  }

  finish(): void {
    const repeated = this.total(this.allUses, (id) => this.uses.get(id) ?? [], true);
    if (repeated > MAX_EXPANDED) {
      throw refuse('The SVG repeats its parts without end.', 'Simplify it, or export it as a PNG.');
    }
    const both = (id: string) => [...(this.uses.get(id) ?? []), ...(this.others.get(id) ?? [])];
    if (this.total(this.allOthers, both, false) > MAX_REFERRED) {
      throw refuse(
        'The SVG puts clips, masks, patterns or filters inside of each other without end.',
        'Flatten them, or export it as a PNG.',
      );
    }
  }

  /** Elements that references bring in. A circle of uses is refused; any other is cut where it closes, as drawing programs do. */
  private total(
    from: readonly string[],
    next: (id: string) => readonly string[],
    refuseCircles: boolean,
  ): number {
    const known = new Map<string, number>();
    const visiting = new Set<string>();
    const expand = (id: string): number => {
      const seen = known.get(id);
      if (seen !== undefined) return seen;
      if (visiting.has(id)) {
        if (!refuseCircles) return 0;
        throw refuse('The SVG uses a part of itself inside itself.', 'Remove that reference.');
      }
      if (visiting.size > MAX_CHAIN) {
        throw refuse(
          `The SVG has a chain of more than ${MAX_CHAIN} references.`,
          'Flatten it, or export it as a PNG.',
        );
      }
      visiting.add(id);
      let sum = this.sizes.get(id) ?? 0;
      for (const target of next(id)) sum = Math.min(1e12, sum + expand(target));
      visiting.delete(id);
      known.set(id, sum);
      return sum;
    };
    return from.reduce((sum, id) => Math.min(1e12, sum + expand(id)), 0);
  }
}

/** Sizes that are rounded to whole units differ in shape by less. */
const SAME_SHAPE = 0.005;

const UNIT_MM: Readonly<Record<string, number>> = {
  px: 25.4 / 96,
  '': 25.4 / 96,
  pt: 25.4 / 72,
  pc: 25.4 / 6,
  mm: 1,
  cm: 10,
  in: 25.4,
};

function absolute(text: string | undefined): number | null {
  const match = /^\s*([0-9.]+(?:e[+-]?\d+)?)\s*(px|pt|pc|mm|cm|in)?\s*$/i.exec(text ?? '');
  return match ? Number(match[1]) * UNIT_MM[(match[2] ?? '').toLowerCase()]! : null;
}

function sizeOf(
  root: SaxesTagPlain,
): Pick<SvgArtwork, 'width' | 'height' | 'statesSize' | 'widthMm' | 'heightMm' | 'viewBox' | 'aspect'> {
  const box = (root.attributes.viewBox ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const boxed = box.length === 4 && box.every(Number.isFinite) && box[2]! > 0 && box[3]! > 0;
  let widthMm = absolute(root.attributes.width);
  let heightMm = absolute(root.attributes.height);
  if (boxed) {
    if (widthMm === null && heightMm === null) widthMm = (box[2]! * 25.4) / 96;
    widthMm ??= (heightMm! * box[2]!) / box[3]!;
    heightMm ??= (widthMm * box[3]!) / box[2]!;
  }
  if (widthMm === null || heightMm === null || !(widthMm > 0) || !(heightMm > 0)) {
    throw refuse('The SVG states no size.', 'Give it a viewBox, or a width and a height.');
  }
  const statesSize = [root.attributes.width, root.attributes.height].some((text) =>
    /[0-9.]\s*(pt|pc|mm|cm|in)\s*$/i.test(text ?? ''),
  );
  const px = 96 / 25.4;
  const viewBox = boxed ? box.join(' ') : `0 0 ${widthMm * px} ${heightMm * px}`;
  const [pageWidth, pageHeight] = [widthMm * px, heightMm * px];
  if (!boxed)
    return { width: pageWidth, height: pageHeight, statesSize, widthMm, heightMm, viewBox, aspect: 'none' };
  const aspect =
    /^(none|xM(in|id|ax)YM(in|id|ax)( +(meet|slice))?)$/.exec(
      root.attributes.preserveAspectRatio?.trim() ?? '',
    )?.[0] ?? 'xMidYMid';
  const stretch = (pageWidth * box[3]!) / (pageHeight * box[2]!);
  if (Math.abs(stretch - 1) < SAME_SHAPE) {
    return { width: box[2]!, height: box[3]!, statesSize, widthMm, heightMm, viewBox, aspect: 'none' };
  }
  // The stated size has another shape than the box: the page is as large as it says, and the box lies in it.
  return { width: pageWidth, height: pageHeight, statesSize, widthMm, heightMm, viewBox, aspect };
}
