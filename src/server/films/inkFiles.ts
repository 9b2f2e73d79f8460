import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { deflateSync } from 'node:zlib';
import { type PDFDict, PDFDocument, PDFName, PDFRawStream, type PDFRef, PDFString } from 'pdf-lib';
import { filmSize, openLabelFont, sheetFurniture } from '@/core/film';
import { type NamedInk, inkTiffHead, tintTransform, uniqueInkNames } from '@/core/formats';
import { toneRule } from '@/core/pipeline';
import { MM_PER_INCH } from '@/core/units';
import { labelFontBytes } from '../projectRoot';
import type { FilmSet } from './makeFilmSet';
import { writeWhole } from './writeWhole';

/** Rows that are deflated together. */
const STRIP_ROWS = 64;

/** The planes of some plates, chunky, deflated strip by strip. */
function* deflatedStrips(set: FilmSet, plates: readonly number[]): Generator<Buffer> {
  const { planeWidth: width, planeHeight: height } = set.plan;
  for (let top = 0; top < height; top += STRIP_ROWS) {
    const rows = Math.min(STRIP_ROWS, height - top);
    const chunky = Buffer.alloc(rows * width * plates.length);
    plates.forEach((plate, k) => {
      const plane = set.planes[plate]!.subarray(top * width, (top + rows) * width);
      for (let i = 0; i < plane.length; i++) chunky[i * plates.length + k] = plane[i]!;
    });
    yield deflateSync(chunky, { level: 6 });
  }
}

/** One chunky image of some plates as a deflated stream. */
function deflatedImage(set: FilmSet, plates: readonly number[]): Buffer {
  const { planeWidth: width, planeHeight: height } = set.plan;
  const chunky = Buffer.alloc(width * height * plates.length);
  plates.forEach((plate, k) => {
    const plane = set.planes[plate]!;
    for (let i = 0; i < plane.length; i++) chunky[i * plates.length + k] = plane[i]!;
  });
  return deflateSync(chunky, { level: 6 });
}

function inksOf(set: FilmSet): NamedInk[] {
  const names = uniqueInkNames(set.films.map(({ plate }) => plate.ink.name));
  return set.films.map(({ plate }, k) => ({ name: names[k]!, colour: plate.ink.colour }));
}

const POINTS_PER_MM = 72 / MM_PER_INCH;

function number(value: number): string {
  return value.toFixed(4).replace(/\.?0+$/, '');
}

/** Marks and lines of text of a sheet as drawing operators in the colour space All: they stand on every plate. */
function furnitureOperators(set: FilmSet, lines: readonly [string, string]): string {
  const { layout, sheet } = set.plan;
  const furniture = sheetFurniture(layout, sheet.film.marks, lines, openLabelFont(labelFontBytes()), {
    mirrored: false,
    marks: true,
    label: sheet.film.label,
  });
  const scale = 72 / layout.dpi;
  const height = layout.heightMm * POINTS_PER_MM;
  const x = (px: number) => number(px * scale);
  const y = (px: number) => number(height - px * scale);
  const operators = ['/All cs 1 scn /All CS 1 SCN'];
  for (const { x0, y0, x1, y1 } of furniture.rects) {
    operators.push(`${x(x0)} ${y(y1)} ${x(x1 - x0)} ${x(y1 - y0)} re f`);
  }
  for (const { cx, cy, inner, outer } of furniture.rings) {
    const r = (inner + outer) / 2;
    // Four cubic pieces make a circle to within 0.03 % of its radius.
    const k = r * 0.5522847498;
    operators.push(
      `${x(outer - inner)} w ${x(cx + r)} ${y(cy)} m`,
      `${x(cx + r)} ${y(cy + k)} ${x(cx + k)} ${y(cy + r)} ${x(cx)} ${y(cy + r)} c`,
      `${x(cx - k)} ${y(cy + r)} ${x(cx - r)} ${y(cy + k)} ${x(cx - r)} ${y(cy)} c`,
      `${x(cx - r)} ${y(cy - k)} ${x(cx - k)} ${y(cy - r)} ${x(cx)} ${y(cy - r)} c`,
      `${x(cx + k)} ${y(cy - r)} ${x(cx + r)} ${y(cy - k)} ${x(cx + r)} ${y(cy)} c s`,
    );
  }
  if (furniture.text.length > 0) {
    for (const points of furniture.text) {
      for (let k = 0; k < points.length; k += 2) {
        operators.push(`${x(points[k]!)} ${y(points[k + 1]!)} ${k === 0 ? 'm' : 'l'}`);
      }
      operators.push('h');
    }
    operators.push('f');
  }
  return operators.join('\n');
}

/**
 * Writes the plates as tones in inks by name, overprinting, for a RIP that makes its own dots: one page of all inks, or a page for
 * each. Gain is not compensated here: that and the dots are the RIP's.
 */
export async function writeInkPdf(set: FilmSet, target: string, each: boolean): Promise<void> {
  const document = await PDFDocument.create({ updateMetadata: false });
  const { context } = document;
  const { layout, sheet, grid } = set.plan;
  document.setTitle(`${sheet.name}: inks`);
  document.setProducer('Kerameus');
  // Equal plates give equal files: the date is the job's.
  const date = new Date(`${sheet.film.date}T00:00:00Z`);
  document.setCreationDate(date);
  document.setModificationDate(date);
  const inks = inksOf(set);
  const transform = (names: readonly NamedInk[]): PDFRef =>
    context.register(
      context.flateStream(tintTransform(names), {
        FunctionType: 4,
        Domain: names.flatMap(() => [0, 1]),
        Range: [0, 1, 0, 1, 0, 1],
      }),
    );
  const space = (names: readonly NamedInk[]) =>
    names.length === 1
      ? context.obj(['Separation', PDFName.of(names[0]!.name), 'DeviceRGB', transform(names)])
      : context.obj(['DeviceN', names.map(({ name }) => PDFName.of(name)), 'DeviceRGB', transform(names)]);
  const all = context.obj([
    'Separation',
    PDFName.of('All'),
    'DeviceRGB',
    transform([{ name: 'All', colour: '#000000' }]),
  ]);
  const overprint = context.register(
    context.obj({ Type: 'ExtGState', OP: true, op: true, OPM: 1 }) as PDFDict,
  );
  const pages = each ? inks.map((_, k) => [k]) : [inks.map((_, k) => k)];
  for (const plates of pages) {
    const image = PDFRawStream.of(
      context.obj({
        Type: 'XObject',
        Subtype: 'Image',
        Width: set.plan.planeWidth,
        Height: set.plan.planeHeight,
        BitsPerComponent: 8,
        ColorSpace: space(plates.map((k) => inks[k]!)),
        Filter: 'FlateDecode',
        Interpolate: false,
      }) as PDFDict,
      deflatedImage(set, plates),
    );
    const film = filmSize(layout);
    const page = document.addPage([film.widthMm * POINTS_PER_MM, film.heightMm * POINTS_PER_MM]);
    const width = (grid.widthPx * 72) / layout.dpi;
    const height = (grid.heightPx * 72) / layout.dpi;
    const left = (layout.printXPx * 72) / layout.dpi;
    const bottom = layout.heightMm * POINTS_PER_MM - (layout.printYPx * 72) / layout.dpi - height;
    const title = plates.map((k) => inks[k]!.name).join(' · ');
    const content = [
      // A quarter clockwise, where the film is turned.
      layout.turned ? `0 -1 1 0 0 ${number(layout.widthMm * POINTS_PER_MM)} cm` : '1 0 0 1 0 0 cm',
      `q /Over gs ${number(width)} 0 0 ${number(height)} ${number(left)} ${number(bottom)} cm /Plates Do Q`,
      `q /Over gs ${furnitureOperators(set, [title, `${sheet.name}  ·  tones without gain compensation  ·  ${sheet.film.date}`])} Q`,
    ].join('\n');
    page.node.set(PDFName.of('Contents'), context.register(context.flateStream(content)));
    page.node.set(
      PDFName.of('Resources'),
      context.obj({
        XObject: { Plates: context.register(image) },
        ColorSpace: { All: all },
        ExtGState: { Over: overprint },
      }),
    );
  }
  const id = PDFString.of(set.films.map((film) => film.streamSha256.slice(0, 8)).join(''));
  context.trailerInfo.ID = context.obj([id, id]);
  await writeWhole(target, [await document.save({ useObjectStreams: false, addDefaultPage: false })]);
}

/** Writes the plates as one TIFF of named inks. */
export async function writeInkTiff(set: FilmSet, target: string): Promise<void> {
  const { planeWidth, planeHeight, sheet } = set.plan;
  const strips = [
    ...deflatedStrips(
      set,
      set.films.map((_, k) => k),
    ),
  ];
  const head = inkTiffHead({
    width: planeWidth,
    height: planeHeight,
    dpiX: planeWidth / (sheet.print.widthMm / MM_PER_INCH),
    dpiY: planeHeight / (sheet.print.heightMm / MM_PER_INCH),
    inks: inksOf(set).map(({ name }) => name),
    rowsPerStrip: STRIP_ROWS,
    stripLengths: strips.map((strip) => strip.length),
  });
  await writeWhole(target, [head, ...strips]);
}

/** What the RIP must be told, since files of tones do not hold it: screens, gain, mesh of each ink. */
export async function writeHalftones(set: FilmSet, folder: string): Promise<string> {
  const names = inksOf(set);
  const plates = set.films.map(({ plate, number: film }, k) => ({
    film,
    ink: names[k]!.name,
    role: plate.role,
    mesh: plate.mesh,
    screen: plate.screen,
    tones: toneRule(set.plan.sheet, plate),
  }));
  const target = path.join(folder, 'halftones.json');
  const note =
    'The tones in the ink files are as wanted in print: gain is not compensated there, dots are not made.';
  await writeFile(target, `${JSON.stringify({ job: set.plan.sheet.name, note, plates }, null, 2)}\n`);
  return target;
}
