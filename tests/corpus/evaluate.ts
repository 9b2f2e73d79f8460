import sharp from 'sharp';
import { type Finding, findingsOf } from '@/core/checks';
import { type Lab, ciede2000, labFromRgb8, parseHexColour } from '@/core/colour';
import { type NewJob, createJobSheet } from '@/core/separation';
import { type Garment, type JobSheet, droppedBackground, paletteOf } from '@/core/sheet';
import { type ArtworkAnalysis, type ArtworkFacts, type ArtworkSource, notesOf } from '@/server/artwork';
import { outerMapFor, renderPreview, surveyPrint } from '@/server/films';

/** Width of the prints that are looked at, and pixels to a millimetre of them: 1 mm² is 64 pixels. */
export const PRINT_MM = 100;
export const PX_PER_MM = 8;

/** A picture of artwork by an independent renderer: pixels with straight alpha, PRINT_MM * PX_PER_MM wide. */
export interface Reference {
  readonly width: number;
  readonly height: number;
  readonly rgba: Uint8Array;
}

/** What became of a piece of artwork on a garment. */
export interface Outcome {
  readonly rows: number;
  readonly plates: number;
  /** CIEDE2000 of flat pieces, weighed by their area, without what a finding tells of. */
  readonly mean: number;
  /** Colours of 0.05 % and more that print farther than 5 from themselves, and no finding tells. */
  readonly silent: readonly {
    readonly colour: string;
    readonly share: number;
    readonly difference: number;
  }[];
  /** Pieces of 1 mm² and more that the garment shows in place of their colour, and no finding tells. */
  readonly lost: number;
  readonly findings: readonly Finding[];
}

export async function readReference(png: Buffer, width: number, height: number): Promise<Reference> {
  const { data } = await sharp(png)
    .resize(width, height, { fit: 'fill' })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width, height, rgba: data };
}

export function sheetFor(
  facts: ArtworkFacts,
  analysis: ArtworkAnalysis,
  garment: Garment,
  change: Partial<NewJob> = {},
): JobSheet {
  const { sha256, fileName, kind, widthPx, heightPx } = facts;
  return createJobSheet({
    name: 'Corpus',
    artwork: { sha256, fileName, kind, widthPx, heightPx },
    colours: analysis.colours,
    transitions: analysis.transitions,
    purity: analysis.purity,
    background: analysis.background,
    backgroundWish: 'auto',
    print: { widthMm: PRINT_MM, chosen: false },
    garment,
    inks: 'auto',
    date: '2026-03-14',
    ...change,
  });
}

/** Pixels of one colour in the reference with nothing else within two pixels. */
function flatPixels({ width, height, rgba }: Reference): Map<number, number[]> {
  const words = new Uint32Array(rgba.buffer, rgba.byteOffset, width * height);
  const found = new Map<number, number[]>();
  for (let y = 2; y < height - 2; y++) {
    for (let x = 2; x < width - 2; x++) {
      const i = y * width + x;
      const word = words[i]!;
      if (word >>> 24 !== 255) continue;
      let flat = true;
      for (let dy = -2; dy <= 2 && flat; dy++) {
        for (let dx = -2; dx <= 2 && flat; dx++) flat = words[i + dy * width + dx] === word;
      }
      if (!flat) continue;
      const list = found.get(word & 0xffffff);
      if (list) list.push(i);
      else found.set(word & 0xffffff, [i]);
    }
  }
  return found;
}

/** The largest piece of some pixels, joined to four sides. */
function largestPiece(pixels: readonly number[], width: number): number {
  const open = new Set(pixels);
  let most = 0;
  for (const first of pixels) {
    if (!open.delete(first)) continue;
    const stack = [first];
    let size = 0;
    while (stack.length > 0) {
      const i = stack.pop()!;
      size++;
      for (const next of [i - 1, i + 1, i - width, i + width]) if (open.delete(next)) stack.push(next);
    }
    most = Math.max(most, size);
  }
  return most;
}

const hexOf = (word: number): string =>
  '#' +
  [word & 255, (word >> 8) & 255, (word >> 16) & 255]
    .map((code) => code.toString(16).padStart(2, '0'))
    .join('');

/**
 * Findings that speak of a whole artwork, and those that name colours which do not print as themselves, with how near (CIEDE2000) one that is meant is:
 * an area stands for the gradient round it.
 */
const OF_ALL = ['full-tone', 'more-colours'];
const OF_SOME: Readonly<Record<string, number>> = {
  'colour-off': 3,
  'garment-supplies': 3,
  'background-dropped': 3,
  'areas-off': 8,
};

/** Whether a finding tells that a colour does not print as itself: by its own code, or that of what stands for it. */
function isTold(findings: readonly Finding[], lab: Lab): boolean {
  return findings.some(({ code, message }) => {
    if (OF_ALL.includes(code)) return true;
    const near = OF_SOME[code];
    if (near === undefined) return false;
    const named = message.match(/#[0-9a-f]{6}/g) ?? [];
    return named.some((hex) => ciede2000(labFromRgb8(parseHexColour(hex)), lab) < near);
  });
}

/** Separates artwork for a garment and compares the predicted print with the reference. */
export async function evaluateArtwork(
  source: ArtworkSource,
  facts: ArtworkFacts,
  analysis: ArtworkAnalysis,
  garment: Garment,
  reference: Reference,
): Promise<Outcome> {
  const sheet = sheetFor(facts, analysis, garment);
  const outer = outerMapFor(source, sheet);
  const preview = await renderPreview(sheet, source, outer, reference.width);
  const survey = await surveyPrint(sheet, source, outer);
  const findings = findingsOf(sheet, notesOf(facts, analysis), survey);
  const ground = labFromRgb8(parseHexColour(garment.colour));
  const dropped = droppedBackground(sheet)?.colour ?? null;
  const droppedLab = dropped ? labFromRgb8(parseHexColour(dropped)) : null;
  const total = reference.width * reference.height;
  const height = Math.min(preview.height, reference.height);
  let [sum, weight, lost] = [0, 0, 0];
  const silent: { colour: string; share: number; difference: number }[] = [];
  for (const [word, pixels] of flatPixels(reference)) {
    const colour = hexOf(word);
    const lab = labFromRgb8(parseHexColour(colour));
    // Paper and what is near the garment may be left to the garment.
    const isDropped = droppedLab !== null && ciede2000(droppedLab, lab) < 3;
    const mean = [0, 0, 0];
    let counted = 0;
    const bare: number[] = [];
    for (const i of pixels) {
      if (i >= height * reference.width) continue;
      const print = [0, 1, 2].map((c) => preview.rgba[i * 4 + c]!) as [number, number, number];
      const isBare = hexOf(print[0] | (print[1] << 8) | (print[2] << 16)) === garment.colour;
      if (isDropped && isBare) continue;
      if (isBare && ciede2000(lab, ground) > 6) bare.push(i);
      print.forEach((code, c) => (mean[c]! += code));
      counted++;
    }
    if (counted === 0) continue;
    const rgb = mean.map((value) => Math.round(value / counted)) as [number, number, number];
    const difference = ciede2000(lab, labFromRgb8(rgb));
    const told = isTold(findings, lab);
    if (!told) {
      sum += difference * counted;
      weight += counted;
    }
    const share = counted / total;
    if (share >= 5e-4 && difference > 5 && !told) silent.push({ colour, share, difference });
    if (bare.length >= PX_PER_MM ** 2 && !told && largestPiece(bare, reference.width) >= PX_PER_MM ** 2)
      lost++;
  }
  return {
    rows: paletteOf(sheet).length,
    plates: sheet.plates.length,
    mean: weight > 0 ? sum / weight : 0,
    silent,
    lost,
    findings,
  };
}

/** Flat artwork put together again from its plates. */
export interface Recomposed {
  /** Flat colours of the reference with 0.1 % of its area and more. */
  readonly colours: number;
  /** CIEDE2000 to the reference, pixel by pixel, of all that are opaque there: edges with them. */
  readonly mean: number;
  /** Of those colours, such as come back more than 5 off in the mean of their pixels. */
  readonly lost: readonly string[];
}

/** Plates laid over each other with inks that hide what is below them: what comes back is what separation made of the artwork, without the press. */
export async function recomposeArtwork(
  source: ArtworkSource,
  facts: ArtworkFacts,
  analysis: ArtworkAnalysis,
  reference: Reference,
): Promise<Recomposed> {
  // A garment of a colour that no artwork has: what is lost shows.
  const own = sheetFor(facts, analysis, { name: 'None', colour: '#3f0b52' });
  const plates = own.plates.map((plate) => ({ ...plate, ink: { ...plate.ink, opacity: 1 } }));
  const sheet = { ...own, plates };
  const preview = await renderPreview(sheet, source, outerMapFor(source, sheet), reference.width);
  const rgba = new Uint8Array(preview.rgba.buffer, preview.rgba.byteOffset, preview.rgba.length);
  const differences = new Map<number, number>();
  const offAt = (i: number): number => {
    const [print, wanted] = [rgba, reference.rgba].map((bytes) => bytes.subarray(i * 4, i * 4 + 3));
    const key = print!.reduce(
      (all, code) => all * 256 + code,
      wanted!.reduce((all, code) => all * 256 + code, 0),
    );
    const labOf = (bytes: Uint8Array) => labFromRgb8([bytes[0]!, bytes[1]!, bytes[2]!]);
    const off = differences.get(key) ?? ciede2000(labOf(wanted!), labOf(print!));
    differences.set(key, off);
    return off;
  };
  const total = Math.min(rgba.length / 4, reference.width * reference.height);
  let [sum, count] = [0, 0];
  for (let i = 0; i < total; i++) {
    if (reference.rgba[i * 4 + 3] !== 255) continue;
    sum += offAt(i);
    count++;
  }
  const flat = [...flatPixels(reference)].filter(([, pixels]) => pixels.length / total >= 1e-3);
  const lost = flat.filter(
    ([, pixels]) => pixels.reduce((off, i) => off + (i < total ? offAt(i) : 0), 0) / pixels.length > 5,
  );
  return { colours: flat.length, mean: count > 0 ? sum / count : 0, lost: lost.map(([word]) => hexOf(word)) };
}
