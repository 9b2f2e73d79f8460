import { createHash } from 'node:crypto';
import { SaxesParser, type SaxesTagPlain } from 'saxes';
import {
  type Affine,
  BLEND_MODES,
  type BlendMode,
  type Box,
  CAPS,
  type Clip,
  type Drawing,
  type DrawingNode,
  type DrawingPicture,
  type Gradient,
  type GradientStop,
  type GroupNode,
  JOINS,
  type Mask,
  type Paint,
  type Pattern,
  SPREADS,
  compose,
  geometryBox,
  invert,
  listOf,
  mapBox,
  outlineBox,
  viewMap,
} from '@/core/drawing';
import { KerameusError } from '@/core/units';
import { type FilterNote, UNDER, filterNote, leastBlur, withoutSource } from './filterNote';
import { PathRoom, addPathData } from './pathData';
import { Slots } from './slots';
import { aspectOf, matrixOf, number, numbers, one, placeOf, reference, rgbOf } from './treeAttributes';

/** What the tree's reader may ask for. */
export interface TreeHelp {
  /** Pictures that the drawing embeds, decoded, by the SHA-256 of their bytes. */
  readonly pictures: ReadonlyMap<string, DrawingPicture>;
  /** First radius of radial gradients, by id: the simplifier does not hand it on. */
  readonly firstRadii: ReadonlyMap<string, number>;
  /** Renders a small SVG at its size in pixels. Throws KerameusError where it cannot. */
  render(svg: string, widthPx: number, heightPx: number, filter: string): DrawingPicture;
}

/** What became of filters. */
export interface FilterPictures {
  /** How many groups were rendered to pictures. */
  readonly count: number;
  /** Their pixels for each unit of the drawing, of the coarsest. */
  readonly pxPerUnit: number | null;
}

/** A drawing's longer side has this many pixels in pictures of filters: 300 dpi on a print of 12 in. */
const FILTER_SIDE_PX = 3600;
const MOST_FILTER_PX = 24e6;
/** Pixels to a standard deviation of a blur: between them it is interpolated. */
const BLUR_PX = 8;
const BIG_BOX = 1e7;

interface Frame {
  readonly name: string;
  readonly attributes: Record<string, string>;
  readonly nodes: DrawingNode[];
  readonly stops: GradientStop[];
  /** From this frame's own coordinates to the drawing's units. */
  readonly map: Affine;
  /** Where the tag begins, and where its content begins. */
  readonly from: number;
  readonly contentFrom: number;
  /** Pieces of a filter. */
  readonly parts: { readonly name: string; readonly attributes: Record<string, string> }[];
}

/**
 * Reads the simplified tree of a drawing into our own form. The tree comes from the SVG library's own writer, never from outside; what is in it that
 * this reader does not know is an error.
 */
export function readTree(xml: string, help: TreeHelp): { drawing: Drawing; filters: FilterPictures } {
  return new TreeReader(xml, help).read();
}

class TreeReader {
  private readonly xml: string;
  private readonly help: TreeHelp;
  private readonly room = new PathRoom();
  private readonly gradients: Gradient[] = [];
  private readonly gradientIds = new Map<string, number>();
  private readonly patterns = new Slots<Pattern>();
  private readonly clips = new Slots<Clip>();
  private readonly masks = new Slots<Mask>();
  private readonly filters = new Map<string, FilterNote>();
  private readonly pictures: DrawingPicture[] = [];
  private readonly pictureIndex = new Map<DrawingPicture, number>();
  private readonly stack: Frame[] = [];
  private defs = '';
  private size: { width: number; height: number } | null = null;
  private root: DrawingNode[] = [];
  private filterPx = 0;
  private filterCount = 0;
  private coarsest: number | null = null;

  constructor(xml: string, help: TreeHelp) {
    this.xml = xml;
    this.help = help;
  }

  read(): { drawing: Drawing; filters: FilterPictures } {
    const parser = new SaxesParser({ xmlns: false, position: true });
    let tagFrom = 0;
    parser.on('error', (error) => {
      throw new Error(`the simplified drawing is broken: ${error.message}`);
    });
    parser.on('opentagstart', (tag) => {
      tagFrom = parser.position - tag.name.length - 2;
    });
    parser.on('opentag', (tag) => this.open(tag, tagFrom, parser.position));
    parser.on('closetag', () => this.close(parser.position));
    parser.write(this.xml).close();
    if (!this.size) throw new Error('the simplified drawing has no root');
    const paths = this.room.finish();
    const { pictures, gradients } = this;
    const empty = listOf([], paths, pictures);
    const drawing: Drawing = {
      ...this.size,
      paths,
      gradients,
      patterns: this.patterns.all(() => ({
        cell: [0, 0, 1, 1],
        byBox: false,
        contentByBox: false,
        transform: null,
        viewBox: null,
        children: empty,
      })),
      // A clip that is missing lets everything through in no program; nothing of it is drawn.
      clips: this.clips.all(() => ({ byBox: false, transform: null, clip: -1, children: empty })),
      masks: this.masks.all(() => ({
        area: [0, 0, 0, 0],
        byBox: false,
        contentByBox: false,
        alphaOnly: true,
        mask: -1,
        children: empty,
      })),
      pictures,
      root: listOf(this.root, paths, pictures),
    };
    return { drawing, filters: { count: this.filterCount, pxPerUnit: this.coarsest } };
  }

  private open(tag: SaxesTagPlain, from: number, contentFrom: number): void {
    const { name, attributes } = tag;
    const parent = this.stack.at(-1);
    let map: Affine = parent?.map ?? [1, 0, 0, 1, 0, 0];
    if (name === 'svg' && !parent) map = this.openRoot(attributes);
    else if (name === 'g' || name === 'path' || name === 'image')
      map = compose(map, matrixOf(attributes.transform));
    this.stack.push({ name, attributes, nodes: [], stops: [], map, from, contentFrom, parts: [] });
  }

  private openRoot(attributes: Record<string, string>): Affine {
    const [width, height] = [number(attributes.width, 0), number(attributes.height, 0)];
    this.size = { width, height };
    return [1, 0, 0, 1, 0, 0];
  }

  private close(to: number): void {
    const frame = this.stack.pop()!;
    const parent = this.stack.at(-1);
    const { name, attributes } = frame;
    if (name === 'path' || name === 'image' || name === 'g') {
      const nodes =
        name === 'path' ? this.shape(frame) : name === 'image' ? this.picture(frame) : this.group(frame, to);
      parent!.nodes.push(...nodes);
    } else if (name === 'svg') {
      if (!parent) this.closeRoot(frame);
    } else if (name === 'stop') {
      parent!.stops.push({
        offset: Math.min(1, Math.max(0, number(attributes.offset, 0))),
        rgb: rgbOf(attributes['stop-color'] ?? '#000000'),
        opacity: number(attributes['stop-opacity'], 1),
      });
    } else if (name === 'linearGradient' || name === 'radialGradient') this.gradient(frame);
    else if (name === 'pattern') this.pattern(frame);
    else if (name === 'clipPath') this.clip(frame);
    else if (name === 'mask') this.mask(frame);
    else if (name === 'filter') {
      this.filters.set(attributes.id!, filterNote(attributes, frame.parts, this.xml.slice(frame.from, to)));
    } else if (name === 'defs') this.defs = this.xml.slice(frame.from, to);
    else if (parent && (parent.name === 'filter' || /^fe[A-Z]/.test(parent.name))) parent.parts.push(frame);
    else throw new Error(`the simplified drawing has a part that is not known: ${name}`);
  }

  /** The root's view box maps the content to its size. */
  private closeRoot({ attributes, nodes }: Frame): void {
    const { width, height } = this.size!;
    const box = numbers(attributes.viewBox);
    const map =
      box.length === 4
        ? viewMap(
            [box[0]!, box[1]!, box[0]! + box[2]!, box[1]! + box[3]!],
            [0, 0, width, height],
            aspectOf(attributes),
          )
        : null;
    const plain = !map || map.every((value, k) => value === [1, 0, 0, 1, 0, 0][k]);
    this.root = plain ? nodes : [this.plainGroup(nodes, map)];
  }

  private plainGroup(nodes: readonly DrawingNode[], transform: Affine | null): GroupNode {
    return {
      kind: 'group',
      transform,
      opacity: 1,
      blend: 'normal',
      isolated: false,
      clip: -1,
      mask: -1,
      box: [0, 0, 0, 0],
      children: listOf(nodes, this.room.view(), this.pictures),
    };
  }

  private shape({ attributes }: Frame): DrawingNode[] {
    if (attributes.visibility === 'hidden' || attributes.visibility === 'collapse') return [];
    const { room } = this;
    const [verbFrom, coordFrom] = [room.verbCount, room.coordCount];
    addPathData(attributes.d ?? '', room);
    const box = outlineBox(room.view(), verbFrom, room.verbCount, coordFrom);
    if (!(box[2] >= box[0])) return [];
    const fill = this.paint(attributes.fill ?? '#000000');
    const stroke = this.paint(attributes.stroke ?? 'none');
    const clip = reference(attributes['clip-path']);
    const shape: DrawingNode = {
      kind: 'shape',
      transform: matrixOf(attributes.transform),
      verbFrom,
      verbTo: room.verbCount,
      coordFrom,
      box,
      fill: fill && {
        paint: fill,
        opacity: number(attributes['fill-opacity'], 1),
        evenOdd: (attributes['fill-rule'] ?? attributes['clip-rule']) === 'evenodd',
      },
      stroke: stroke && {
        paint: stroke,
        opacity: number(attributes['stroke-opacity'], 1),
        width: number(attributes['stroke-width'], 1),
        cap: one(CAPS, attributes['stroke-linecap'], 'butt'),
        join: one(JOINS, attributes['stroke-linejoin'], 'miter'),
        miterLimit: number(attributes['stroke-miterlimit'], 4),
        dashes: numbers(attributes['stroke-dasharray']),
        dashOffset: number(attributes['stroke-dashoffset'], 0),
      },
      strokeFirst: (attributes['paint-order'] ?? '').startsWith('stroke'),
    };
    // Shapes inside of a clip may have one of their own.
    return [
      clip === null
        ? shape
        : { ...this.plainGroup([shape], null), clip: this.clips.index(clip), box: this.boxOf([shape]) },
    ];
  }

  private paint(text: string): Paint | null {
    if (text === 'none') return null;
    const id = reference(text);
    if (id === null) return { kind: 'colour', rgb: rgbOf(text) };
    const gradient = this.gradientIds.get(id);
    if (gradient !== undefined) return { kind: 'gradient', index: gradient };
    return { kind: 'pattern', index: this.patterns.index(id) };
  }

  private picture({ attributes }: Frame): DrawingNode[] {
    if (attributes.visibility === 'hidden' || attributes.visibility === 'collapse') return [];
    const data = attributes['xlink:href'] ?? attributes.href ?? '';
    const payload = /^data:image\/(?:png|jpe?g);base64,\s*/i.exec(data);
    if (!payload) throw new Error('a picture of the simplified drawing is of an unknown kind');
    const bytes = Buffer.from(data.slice(payload[0].length), 'base64');
    const picture = this.help.pictures.get(createHash('sha256').update(bytes).digest('hex'));
    if (!picture) throw new Error('a picture of the simplified drawing was not read');
    const [x, y] = [number(attributes.x, 0), number(attributes.y, 0)];
    const place: Box = [
      x,
      y,
      x + number(attributes.width, picture.width),
      y + number(attributes.height, picture.height),
    ];
    const aspect = aspectOf(attributes);
    const inner = viewMap([0, 0, picture.width, picture.height], place, aspect);
    const transform = matrixOf(attributes.transform);
    const node: DrawingNode = {
      kind: 'picture',
      picture: this.pictureNumber(picture),
      transform: inner,
      shown: aspect.slice ? place : null,
      smooth: !/optimizeSpeed|pixelated|crisp-edges/.test(attributes['image-rendering'] ?? ''),
    };
    return transform ? [this.plainGroup([node], transform)] : [node];
  }

  private pictureNumber(picture: DrawingPicture): number {
    let index = this.pictureIndex.get(picture);
    if (index === undefined) {
      index = this.pictures.push(picture) - 1;
      this.pictureIndex.set(picture, index);
    }
    return index;
  }

  private group(frame: Frame, to: number): DrawingNode[] {
    const { attributes } = frame;
    const style = attributes.style ?? '';
    const blend = one(BLEND_MODES, /mix-blend-mode:\s*([\w-]+)/.exec(style)?.[1], 'normal');
    const clip = reference(attributes['clip-path']);
    const mask = reference(attributes.mask);
    const transform = matrixOf(attributes.transform);
    let nodes: readonly DrawingNode[] = frame.nodes;
    const filter = reference(attributes.filter);
    // The filter's picture stands in the group's own coordinates.
    if (filter !== null) nodes = this.filtered(frame, to, filter);
    else if (nodes.length === 0) return [];
    const opacity = number(attributes.opacity, 1);
    const measured = clip !== null || mask !== null;
    return [
      {
        kind: 'group',
        transform,
        opacity,
        blend: blend as BlendMode,
        isolated: /isolation:\s*isolate/.test(style) || filter !== null,
        clip: clip === null ? -1 : this.clips.index(clip),
        mask: mask === null ? -1 : this.masks.index(mask),
        box: measured ? this.boxOf(frame.nodes) : [0, 0, 0, 0],
        children: listOf(nodes, this.room.view(), this.pictures),
      },
    ];
  }

  private boxOf(nodes: readonly DrawingNode[]): Box {
    const box = geometryBox(nodes, this.room.view(), this.pictures, [1, 0, 0, 1, 0, 0]);
    return box[2] >= box[0] ? box : [0, 0, 0, 0];
  }

  /** What a filter makes of a group, as a picture in the group's own coordinates; what it leaves as it is stays outlines on top of it. */
  private filtered(frame: Frame, to: number, id: string): readonly DrawingNode[] {
    const note = this.filters.get(id);
    // A group whose filter is missing is not drawn at all.
    if (!note) return [];
    const wanted = note.areaOf(this.boxOf(frame.nodes));
    const area = wanted && this.visiblePart(wanted, frame.map);
    if (!area) return [];
    const [x0, y0, x1, y1] = area;
    const density = this.densityOf(frame.map);
    const [width, height] = [x1 - x0, y1 - y0];
    const room = MOST_FILTER_PX - this.filterPx;
    if (room < 1e5) throw tooManyFilters(note);
    const sharp = withoutSource(note);
    const sharpest = Math.min(density, Math.sqrt(room / 2 / (width * height)));
    const blur = leastBlur(sharp ?? note.text);
    const perUnit = blur === null ? sharpest : Math.min(sharpest, BLUR_PX / blur);
    const [w, h] = [Math.max(1, Math.ceil(width * perUnit)), Math.max(1, Math.ceil(height * perUnit))];
    this.filterPx += w * h;
    this.filterCount++;
    const outer = sharpest / density;
    const inUnits = (FILTER_SIDE_PX / Math.max(this.size!.width, this.size!.height)) * outer;
    this.coarsest = Math.min(this.coarsest ?? Infinity, inUnits);
    const content = this.xml.slice(frame.contentFrom, this.xml.lastIndexOf('</', to - 1));
    const svg =
      `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="${w}" height="${h}" ` +
      `viewBox="${x0} ${y0} ${width} ${height}" preserveAspectRatio="none">${this.defs || this.openDefs()}` +
      `${sharp ? `<defs>${sharp}</defs>` : ''}<g filter="url(#${sharp ? UNDER : id})">${content}</g></svg>`;
    const picture = this.help.render(svg, w, h, note.names);
    const index = this.pictureNumber(picture);
    const node: DrawingNode = {
      kind: 'picture',
      picture: index,
      transform: [width / w, 0, 0, height / h, x0, y0],
      shown: null,
      smooth: true,
    };
    return sharp ? [node, ...frame.nodes] : [node];
  }

  /** Pixels to a unit of a group's coordinates. */
  private densityOf(map: Affine): number {
    const side = FILTER_SIDE_PX / Math.max(this.size!.width, this.size!.height);
    const scale = Math.sqrt(Math.abs(map[0] * map[3] - map[1] * map[2]));
    return side * (scale > 0 ? scale : 1);
  }

  /** The part of a filter's area that can be seen; in patterns and masks, where that is not known, all of it. */
  private visiblePart(area: Box, map: Affine): Box | null {
    const { width, height } = this.size!;
    const back = invert(map);
    const inDefs = this.stack.some(({ name }) => name === 'defs');
    const seen: Box =
      back && !inDefs ? mapBox(back, [0, 0, width, height]) : [-BIG_BOX, -BIG_BOX, BIG_BOX, BIG_BOX];
    const box: Box = [
      Math.max(area[0], seen[0]),
      Math.max(area[1], seen[1]),
      Math.min(area[2], seen[2]),
      Math.min(area[3], seen[3]),
    ];
    return box[2] > box[0] && box[3] > box[1] ? box : null;
  }

  /** Definitions that were read so far, while they are not closed yet. */
  private openDefs(): string {
    const frame = this.stack.find(({ name }) => name === 'defs');
    const child = this.stack[this.stack.indexOf(frame!) + 1];
    return frame && child ? `${this.xml.slice(frame.from, child.from)}</defs>` : '';
  }

  private gradient({ name, attributes, stops }: Frame): void {
    const at = (key: string) => number(attributes[key], 0);
    const radial = name === 'radialGradient';
    // Offsets never go back.
    let last = 0;
    const rising = stops.map((stop) => ({ ...stop, offset: (last = Math.max(last, stop.offset)) }));
    const common = {
      byBox: attributes.gradientUnits !== 'userSpaceOnUse',
      transform: matrixOf(attributes.gradientTransform),
      spread: one(SPREADS, attributes.spreadMethod, 'pad'),
      stops: rising,
    };
    const circle = (): Gradient => {
      const r1 = this.help.firstRadii.get(attributes.id!) ?? 0;
      let [fx, fy] = [number(attributes.fx, at('cx')), number(attributes.fy, at('cy'))];
      const [cx, cy, r2] = [at('cx'), at('cy'), at('r')];
      const away = Math.sqrt((fx - cx) * (fx - cx) + (fy - cy) * (fy - cy));
      // A focus outside of the circle is moved onto its edge (SVG 1.1, 13.2.3), and a hair inside, where there is one answer.
      if (r1 === 0 && away > r2 * 0.999999) {
        const share = away > 0 ? (r2 * 0.999999) / away : 0;
        [fx, fy] = [cx + (fx - cx) * share, cy + (fy - cy) * share];
      }
      return { ...common, kind: 'radial', x1: fx, y1: fy, r1, x2: cx, y2: cy, r2 };
    };
    const line = (): Gradient => ({
      ...common,
      kind: 'linear',
      x1: at('x1'),
      y1: at('y1'),
      r1: 0,
      x2: number(attributes.x2, 1),
      y2: at('y2'),
      r2: 0,
    });
    this.gradientIds.set(attributes.id!, this.gradients.push(radial ? circle() : line()) - 1);
  }

  private pattern({ attributes, nodes }: Frame): void {
    const box = numbers(attributes.viewBox);
    this.patterns.set(attributes.id!, {
      cell: placeOf(attributes),
      byBox: attributes.patternUnits !== 'userSpaceOnUse',
      contentByBox: attributes.patternContentUnits === 'objectBoundingBox',
      transform: matrixOf(attributes.patternTransform),
      viewBox:
        box.length === 4
          ? { box: [box[0]!, box[1]!, box[0]! + box[2]!, box[1]! + box[3]!], ...aspectOf(attributes) }
          : null,
      children: listOf(nodes, this.room.view(), this.pictures),
    });
  }

  private clip({ attributes, nodes }: Frame): void {
    const clip = reference(attributes['clip-path']);
    this.clips.set(attributes.id!, {
      byBox: attributes.clipPathUnits === 'objectBoundingBox',
      transform: matrixOf(attributes.transform),
      clip: clip === null ? -1 : this.clips.index(clip),
      children: listOf(
        nodes.map((node) => this.clipChild(node)),
        this.room.view(),
        this.pictures,
      ),
    });
  }

  /** Of what clips only outlines count, whatever they are painted with. */
  private clipChild(node: DrawingNode): DrawingNode {
    return node.kind === 'shape' ? { ...node, stroke: null } : node;
  }

  private mask({ attributes, nodes }: Frame): void {
    const mask = reference(attributes.mask);
    this.masks.set(attributes.id!, {
      area: placeOf(attributes),
      byBox: attributes.maskUnits !== 'userSpaceOnUse',
      contentByBox: attributes.maskContentUnits === 'objectBoundingBox',
      alphaOnly: (attributes['mask-type'] ?? attributes.style ?? '').includes('alpha'),
      mask: mask === null ? -1 : this.masks.index(mask),
      children: listOf(nodes, this.room.view(), this.pictures),
    });
  }
}

function tooManyFilters({ names }: FilterNote): KerameusError {
  return new KerameusError({
    code: 'svg-refused',
    parameter: 'artwork',
    message: `The SVG has more blurs, shadows and other filters (${names}) than are rendered.`,
    remedy: 'Turn them into pictures in the drawing program, or take them away.',
  });
}
