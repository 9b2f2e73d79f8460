import { createHash } from 'node:crypto';
import { openLabelFont } from '@/core/film';
import { filmPdf } from '@/core/formats';
import { createWasmKernels } from '@/core/kernels';
import { FilmTones, makeWedgeFilm } from '@/core/pipeline';
import type { JobSheet, Plate } from '@/core/sheet';
import { kernelModule, labelFontBytes } from '../projectRoot';
import { keptTiles } from './tileFiles';

/** A step wedge through a plate's screen, as a PDF of one film. Throws what screening throws. */
export function wedgePdf(sheet: JobSheet, plate: Plate): Buffer {
  const kernels = createWasmKernels(kernelModule());
  const font = openLabelFont(labelFontBytes());
  const film = makeWedgeFilm(sheet, plate, font, keptTiles(), new FilmTones(), kernels);
  const encoder = kernels.createG4Encoder(film.widthPx);
  const stream = Buffer.concat([encoder.encode(film.bits, film.heightPx), encoder.finish()]);
  const id = createHash('md5').update(stream).digest('hex').toUpperCase();
  const pieces = filmPdf([{ ...film, length: stream.length }], `Step wedge: ${plate.ink.name}`, id);
  return Buffer.concat([...pieces].map((piece) => (piece instanceof Uint8Array ? piece : stream)));
}
