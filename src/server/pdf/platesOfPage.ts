import {
  PDFArray,
  PDFBool,
  PDFDict,
  PDFDocument,
  PDFName,
  PDFNumber,
  type PDFObject,
  PDFRawStream,
  PDFRef,
  PDFStream,
  decodePDFRawStream,
} from 'pdf-lib';
import { type DeviceSpaces, rewriteColours } from './contentColours';
import { plainInk } from './inkNames';
import { platesRefused } from './platesRefused';
import {
  CMYK,
  type ColourKind,
  PROCESS_PLATES,
  componentOf,
  inputsOf,
  transformCode,
} from './tintTransforms';

/** Side of a field of `inkFields`, in points. */
export const INK_FIELD = 10;

/** A plate that a page may print on. */
export interface NamedPlate {
  readonly name: string;
  /** One of the process inks, which colours of gray, RGB and CMYK print on. */
  readonly isProcess: boolean;
}

/** The most plates that are taken of a page; more is no print, and each is drawn by itself. */
export const MOST_PAGE_PLATES = 24;
/** Things that a page may consist of; a page that names each of its things once is far below. */
const MOST_OBJECTS = 200_000;
/** Bytes that its operators may unpack to in all. */
const MOST_CONTENT_BYTES = 200e6;
const DEFAULT_SPACES = ['DefaultGray', 'DefaultRGB', 'DefaultCMYK'];
const LINE_END = new Uint8Array([10]);
/** Names of resources that no file has. */
const DEVICES: DeviceSpaces = {
  DeviceGray: { name: 'KerameusGray', initial: '0' },
  DeviceRGB: { name: 'KerameusRgb', initial: '0 0 0' },
  DeviceCMYK: { name: 'KerameusCmyk', initial: '0 0 0 1' },
};

/**
 * One page of a PDF, of which any plate can be written as a page of its own: in gray, black where the plate prints solid. Colour spaces are given other
 * tint transforms and nothing else of the page is touched, so that outlines, pictures and gradients stay what they are. What knocks out is painted
 * white; what overprints multiplies, which leaves the other plates as they are.
 */
export class PlatesOfPage {
  readonly plates: readonly NamedPlate[];
  /** Whether colours of RGB are on the page, which become process inks by ISO 32000-1, 10.3.4 with all of black taken out of the others. */
  hasRgb = false;
  /** Whether colours of CMYK are on the page. */
  private hasCmyk = false;
  private overprintsByModeZero = false;
  private readonly lost = new Set<string>();
  private readonly document: PDFDocument;
  private readonly pageIndex: number;
  private readonly names = new Set<string>();
  private readonly firstSpace = new Map<string, { space: PDFObject; at: number; count: number }>();
  private readonly transforms = new Map<string, { readonly ref: PDFRef; readonly kind: ColourKind }>();
  private readonly seen = new Set<PDFObject>();
  /** Of colour spaces that stand for gray, RGB and CMYK the colour that counts until another is chosen. */
  private readonly initials = new Map<PDFObject, string>();
  /** Groups whose lightness or opacity is a soft mask: their colours are no inks, and stay. */
  private readonly masks: PDFObject[] = [];
  private objects = 0;
  private contentBytes = 0;

  private constructor(document: PDFDocument, pageIndex: number) {
    this.document = document;
    this.pageIndex = pageIndex;
    this.rewritePage();
    this.checkMasks();
    const named = [...this.names].filter((name) => !PROCESS_PLATES.some((process) => process === name));
    if (named.length > MOST_PAGE_PLATES) {
      throw platesRefused(`The page names ${named.length} inks; up to ${MOST_PAGE_PLATES} are taken.`);
    }
    this.plates = [
      ...named.map((name) => ({ name, isProcess: false })),
      ...PROCESS_PLATES.map((name) => ({ name, isProcess: true })),
    ];
  }

  /**
   * Reads a page. Throws KerameusError `pdf-plates`: the file is locked or damaged, or the page has colours that no plate prints as such.
   *
   * @param page from 1 on.
   */
  static async read(bytes: Uint8Array, page: number): Promise<PlatesOfPage> {
    const document = await PDFDocument.load(bytes, { updateMetadata: false }).catch((thrown: Error) => {
      throw platesRefused(
        /encrypt/i.test(thrown.message)
          ? 'The PDF is locked: the plates inside of it cannot be read.'
          : 'The plates inside of the PDF cannot be read: it is damaged.',
      );
    });
    return new PlatesOfPage(document, page - 1);
  }

  /** The page as one of its plates. */
  async plate(name: string): Promise<Uint8Array> {
    const { context } = this.document;
    for (const { ref, kind } of this.transforms.values()) {
      const code = transformCode(kind, name);
      const inputs = inputsOf(kind);
      context.assign(
        ref,
        context.stream(code, {
          FunctionType: 4,
          Domain: Array.from({ length: inputs }, () => [0, 1]).flat(),
          Range: [0, 1],
        }),
      );
    }
    return this.document.save({ useObjectStreams: false, updateFieldAppearances: false });
  }

  /** What of the page its plates do not keep, in words. */
  get unkept(): readonly string[] {
    const zero = this.hasCmyk && this.overprintsByModeZero;
    return [
      ...this.lost,
      ...(zero
        ? [
            'CMYK that overprints by mode 0 would knock out process inks where it has none of them: it is taken as by mode 1',
          ]
        : []),
    ];
  }

  /** Pages of the file. */
  get pageCount(): number {
    return this.document.getPageCount();
  }

  /**
   * A document of one page more, the last, with a field of each named plate's ink as the file's own colour space shows it: from left to right in
   * the order of those of `plates` that are not process inks. To be asked for last.
   */
  async inkFields(): Promise<Uint8Array> {
    const named = this.plates.filter(({ isProcess }) => !isProcess);
    const side = INK_FIELD;
    const { context } = this.document;
    const page = this.document.addPage([side * named.length, side]);
    const spaces = context.obj({}) as PDFDict;
    const fields = named.map(({ name }, k) => {
      const { space, at, count } = this.firstSpace.get(name)!;
      spaces.set(PDFName.of(`S${k}`), space);
      const tints = Array.from({ length: count }, (_, c) => (c === at ? 1 : 0)).join(' ');
      return `/S${k} cs ${tints} scn ${k * side} 0 ${side} ${side} re f`;
    });
    page.node.set(PDFName.of('Resources'), context.obj({ ColorSpace: spaces }));
    page.node.set(PDFName.of('Contents'), context.register(context.stream(fields.join('\n'))));
    return this.document.save({ useObjectStreams: false, updateFieldAppearances: false });
  }

  private rewritePage(): void {
    const page = this.document.getPage(this.pageIndex);
    const { context } = this.document;
    const { node } = page;
    const resources = this.resources(node.Resources() ?? null);
    node.set(PDFName.of('Resources'), resources);
    dropGroupSpace(node);
    const contents = this.find(node.get(PDFName.of('Contents')));
    const parts = contents instanceof PDFArray ? contents.asArray() : contents ? [contents] : [];
    const code = this.rewritten(
      parts.map((part) => this.find(part)),
      resources,
      true,
    );
    node.set(PDFName.of('Contents'), context.register(context.stream(code)));
    const annotations = node.Annots();
    for (let k = 0; k < (annotations?.size() ?? 0); k++) {
      const appearance = this.dictOf(this.dictOf(annotations!.get(k))?.get(PDFName.of('AP')));
      for (const state of appearance?.values() ?? []) {
        this.visitForm(state, resources);
        // A widget has one for each of its states.
        const states = this.find(state);
        if (states instanceof PDFDict) for (const each of states.values()) this.visitForm(each, resources);
      }
    }
  }

  private find(object: PDFObject | undefined): PDFObject | undefined {
    return object instanceof PDFRef ? this.document.context.lookup(object) : object;
  }

  private dictOf(object: PDFObject | undefined): PDFDict | undefined {
    const found = this.find(object);
    return found instanceof PDFDict ? found : found instanceof PDFStream ? found.dict : undefined;
  }

  /** Whether something is come to for the first time; the page may refer to itself. */
  private enter(object: PDFObject): boolean {
    if (this.seen.has(object)) return false;
    this.seen.add(object);
    if (++this.objects > MOST_OBJECTS)
      throw platesRefused('The page consists of too many parts to be taken apart.');
    return true;
  }

  /** Resources of a stream, written anew: those of soft masks may be the same, and stay. */
  private resources(given: PDFDict | null): PDFDict {
    const { context } = this.document;
    const resources = (given ? given.clone(context) : context.obj({})) as PDFDict;
    const spaces = context.obj({}) as PDFDict;
    for (const [key, space] of this.entries(resources, 'ColorSpace')) {
      // What the file lets stand for device colours would stand for the gray of our transforms as well.
      if (!DEFAULT_SPACES.includes(key.decodeText())) spaces.set(key, this.space(space) ?? space);
    }
    // Colours that are chosen by operators of their own are of these.
    spaces.set(PDFName.of(DEVICES.DeviceGray.name), this.spaceOf('gray', null));
    spaces.set(PDFName.of(DEVICES.DeviceRGB.name), this.spaceOf('rgb', null));
    spaces.set(PDFName.of(DEVICES.DeviceCMYK.name), this.spaceOf(CMYK, null));
    resources.set(PDFName.of('ColorSpace'), spaces);
    for (const [, object] of this.entries(resources, 'XObject')) this.visitForm(object, resources);
    for (const [, object] of this.entries(resources, 'Pattern')) this.visitPattern(object);
    for (const [, object] of this.entries(resources, 'Shading')) this.visitShading(object);
    for (const [, object] of this.entries(resources, 'Font')) this.visitFont(object, resources);
    for (const [, object] of this.entries(resources, 'ExtGState')) this.visitState(object);
    return resources;
  }

  private entries(resources: PDFDict, kind: string): [PDFName, PDFObject][] {
    return this.dictOf(resources.get(PDFName.of(kind)))?.entries() ?? [];
  }

  /** @param around resources of what the form stands in, which are its own where it has none. */
  private visitForm(object: PDFObject, around: PDFDict): void {
    const stream = this.find(object);
    if (!(stream instanceof PDFRawStream) || !(object instanceof PDFRef) || !this.enter(stream)) return;
    const { dict } = stream;
    if (dict.get(PDFName.of('Subtype')) === PDFName.of('Image')) {
      this.replaceSpace(dict, 'an image');
      return;
    }
    dropGroupSpace(dict);
    this.rewriteStream(object, stream, around, false);
  }

  private visitPattern(object: PDFObject): void {
    const pattern = this.find(object);
    if (!pattern || !this.enter(pattern)) return;
    if (pattern instanceof PDFDict) {
      const shading = pattern.get(PDFName.of('Shading'));
      if (shading) this.visitShading(shading);
    } else if (pattern instanceof PDFRawStream && object instanceof PDFRef) {
      this.rewriteStream(object, pattern, this.document.context.obj({}) as PDFDict, true);
    }
  }

  /** Writes a stream of operators anew in its place. */
  private rewriteStream(ref: PDFRef, stream: PDFRawStream, around: PDFDict, begins: boolean): void {
    const { context } = this.document;
    const own = this.dictOf(stream.dict.get(PDFName.of('Resources')));
    const resources = own ? this.resources(own) : around;
    const dict = stream.dict.clone(context);
    if (own) dict.set(PDFName.of('Resources'), resources);
    for (const key of ['Filter', 'DecodeParms', 'Length']) dict.delete(PDFName.of(key));
    const rewritten = PDFRawStream.of(dict, this.rewritten([stream], resources, begins));
    this.seen.add(rewritten);
    context.assign(ref, rewritten);
  }

  /** What streams of operators say together, with colours of resources. */
  private rewritten(
    streams: readonly (PDFObject | undefined)[],
    resources: PDFDict,
    begins: boolean,
  ): Uint8Array {
    const parts = streams.flatMap((stream) =>
      stream instanceof PDFRawStream ? [decodePDFRawStream(stream).decode(), LINE_END] : [],
    );
    this.contentBytes += parts.reduce((sum, { length }) => sum + length, 0);
    if (this.contentBytes > MOST_CONTENT_BYTES)
      throw platesRefused('The page is too large to be taken apart.');
    const initials = new Map(
      this.entries(resources, 'ColorSpace').flatMap(([key, space]) => {
        const initial = this.initials.get(space);
        return initial ? [[key.decodeText(), initial] as const] : [];
      }),
    );
    const { bytes, devices } = rewriteColours(Buffer.concat(parts), DEVICES, initials, begins);
    if (devices.has('DeviceRGB')) this.hasRgb = true;
    if (devices.has('DeviceCMYK')) this.hasCmyk = true;
    return bytes;
  }

  private visitShading(object: PDFObject): void {
    const dict = this.dictOf(object);
    if (dict && this.enter(dict)) this.replaceSpace(dict, 'a gradient');
  }

  private visitFont(object: PDFObject, around: PDFDict): void {
    const font = this.dictOf(object);
    if (!font || font.get(PDFName.of('Subtype')) !== PDFName.of('Type3') || !this.enter(font)) return;
    const own = this.dictOf(font.get(PDFName.of('Resources')));
    const resources = own ? this.resources(own) : around;
    if (own) font.set(PDFName.of('Resources'), resources);
    for (const letter of this.dictOf(font.get(PDFName.of('CharProcs')))?.values() ?? []) {
      const stream = this.find(letter);
      if (stream instanceof PDFRawStream && letter instanceof PDFRef && this.enter(stream)) {
        this.rewriteStream(letter, stream, resources, false);
      }
    }
  }

  /** What overprints leaves the plates alone that it does not print on. */
  private visitState(object: PDFObject): void {
    const state = this.dictOf(object);
    if (!state || !this.enter(state)) return;
    const stroke = this.find(state.get(PDFName.of('OP')));
    const fill = this.find(state.get(PDFName.of('op'))) ?? stroke;
    const mode = this.find(state.get(PDFName.of('OPM')));
    const isOn = (value: PDFObject | undefined) => value instanceof PDFBool && value.asBoolean();
    if (isOn(stroke) !== isOn(fill)) this.lost.add('overprint of strokes that differs from that of areas');
    if (isOn(fill) && !(mode instanceof PDFNumber && mode.asNumber() === 1)) this.overprintsByModeZero = true;
    this.noteBlend(state.get(PDFName.of('BM')));
    const mask = this.dictOf(state.get(PDFName.of('SMask')))?.get(PDFName.of('G'));
    if (mask) this.masks.push(mask);
    if (!(fill instanceof PDFBool) || state.has(PDFName.of('BM'))) return;
    state.set(PDFName.of('BM'), PDFName.of(fill.asBoolean() ? 'Multiply' : 'Normal'));
  }

  /** What soft masks are made of must be theirs alone: what the page paints as well is not as it was. */
  private checkMasks(): void {
    const known = new Set<PDFObject>();
    const open = [...this.masks];
    for (let next = open.pop(); next; next = open.pop()) {
      const group = this.find(next);
      if (!group || known.has(group)) continue;
      known.add(group);
      if (this.seen.has(group)) {
        this.lost.add('soft masks that are made of parts of the page itself');
        return;
      }
      const resources = this.dictOf(this.dictOf(group)?.get(PDFName.of('Resources')));
      for (const kind of ['XObject', 'Pattern', 'Shading']) {
        if (resources) open.push(...this.entries(resources, kind).map(([, object]) => object));
      }
    }
  }

  /** Modes that work on each ink by itself, and alike on one plate and on all. */
  private noteBlend(object: PDFObject | undefined): void {
    const mode = this.find(object);
    const first = mode instanceof PDFArray ? this.find(mode.asArray()[0]) : mode;
    if (!(first instanceof PDFName)) return;
    const name = first.decodeText();
    if (!['Normal', 'Compatible', 'Multiply', 'Darken'].includes(name)) {
      this.lost.add(`the blend mode ${name.slice(0, 40)}, which is done on each plate by itself`);
    }
  }

  private replaceSpace(dict: PDFDict, what: string): void {
    const key = PDFName.of('ColorSpace');
    const space = dict.get(key);
    if (!space) {
      const isMask = this.find(dict.get(PDFName.of('ImageMask')));
      if (isMask instanceof PDFBool && isMask.asBoolean()) return;
      throw platesRefused(
        `The colours of ${what} on the page are not said in a way that plates can be made of.`,
      );
    }
    const next = this.space(space);
    if (next) dict.set(key, next);
  }

  /** What takes a colour space's place; null: it stays. */
  private space(object: PDFObject): PDFObject | null {
    const space = this.find(object);
    if (space instanceof PDFName) return this.deviceSpace(space.decodeText());
    if (!(space instanceof PDFArray) || space.size() === 0) return null;
    const family = this.find(space.get(0));
    const word = family instanceof PDFName ? family.decodeText() : '';
    if (word === 'ICCBased') {
      const count = this.find(this.dictOf(space.get(1))?.get(PDFName.of('N')));
      const n = count instanceof PDFNumber ? count.asNumber() : 0;
      return this.deviceSpace(n === 1 ? 'DeviceGray' : n === 4 ? 'DeviceCMYK' : 'DeviceRGB');
    }
    if (word === 'Indexed' || word === 'I' || word === 'Pattern') {
      const base = space.size() > 1 ? this.space(space.get(1)) : null;
      if (!base) return null;
      const copy = space.clone(this.document.context);
      copy.set(1, base);
      return copy;
    }
    if (word === 'Separation' || word === 'DeviceN') {
      const names = this.find(space.get(1));
      const list = names instanceof PDFArray ? names.asArray() : names ? [names] : [];
      const words = list.map((each) => {
        const name = this.find(each);
        return name instanceof PDFName ? plainInk(name.decodeText()) : 'None';
      });
      if (words.length === 0 || words.length > 32)
        throw platesRefused('A colour of the page has no number of inks that is valid.');
      // It would paint nothing on any plate, and leave what is below; there is no gray that does.
      if (words.every((name) => name === 'None')) {
        throw platesRefused('The page has colours of no ink at all, which are not drawn as they are meant.');
      }
      return this.spaceOf({ of: words.map(componentOf) }, object);
    }
    return this.deviceSpace(word);
  }

  private deviceSpace(word: string): PDFObject | null {
    if (['DeviceGray', 'CalGray', 'G'].includes(word)) return this.spaceOf('gray', null);
    if (['DeviceRGB', 'CalRGB', 'RGB'].includes(word)) {
      this.hasRgb = true;
      return this.spaceOf('rgb', null);
    }
    if (['DeviceCMYK', 'CMYK'].includes(word)) {
      this.hasCmyk = true;
      return this.spaceOf(CMYK, null);
    }
    if (word === 'Lab') throw platesRefused('The page has colours of CIELAB, which no ink is named for.');
    return null;
  }

  /** @param own the colour space that names the inks, as the file has it. */
  private spaceOf(kind: ColourKind, own: PDFObject | null): PDFObject {
    const { context } = this.document;
    const key = JSON.stringify(kind);
    const transform = this.transforms.get(key) ?? { ref: context.nextRef(), kind };
    this.transforms.set(key, transform);
    const count = inputsOf(kind);
    if (own && typeof kind === 'object') {
      kind.of.forEach((component, at) => {
        if (typeof component !== 'object') return;
        this.names.add(component.plate);
        const known = this.firstSpace.get(component.plate);
        // A colour of this ink alone shows it best.
        if (!known || count < known.count) this.firstSpace.set(component.plate, { space: own, at, count });
      });
    }
    const names = Array.from({ length: count }, (_, k) => PDFName.of(`Ink${k}`));
    const space = context.obj([PDFName.of('DeviceN'), names, PDFName.of('DeviceGray'), transform.ref]);
    if (!own)
      this.initials.set(space, count === 4 ? DEVICES.DeviceCMYK.initial : Array(count).fill(0).join(' '));
    return space;
  }
}

/** Blending is done in gray. */
function dropGroupSpace(dict: PDFDict): void {
  const group = dict.lookup(PDFName.of('Group'));
  if (group instanceof PDFDict) group.delete(PDFName.of('CS'));
}
