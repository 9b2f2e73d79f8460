import { PDFDocument, StandardFonts, rgb } from 'pdf-lib';
import { parseHexColour } from '@/core/colour';
import { type JobSheet, garmentOf } from '@/core/sheet';
import { MM_PER_INCH, trimNumber } from '@/core/units';
import { GARMENT_DRAWING } from './drawGarment';

const PAGE = { width: 612, height: 792 };
const MARGIN = 42;

/** What standard fonts can show; other letters become a question mark. */
function plain(text: string): string {
  return text.replace(/[^\x20-\x7e\xa0-\xff]/g, '?');
}

function inch(mm: number): string {
  return `${trimNumber(mm / MM_PER_INCH, 2)} in (${trimNumber(mm, 0)} mm)`;
}

/** One page for the customer: picture, size, garment, inks, a place to sign. Same sheet and picture, same bytes. */
export async function approvalPdf(sheet: JobSheet, picture: Uint8Array): Promise<Uint8Array> {
  const document = await PDFDocument.create();
  const stated = new Date(`${sheet.film.date}T00:00:00Z`);
  document.setTitle(`${sheet.name}: for approval`);
  document.setProducer('Kerameus');
  document.setCreator('Kerameus');
  document.setCreationDate(stated);
  document.setModificationDate(stated);
  const page = document.addPage([PAGE.width, PAGE.height]);
  const [regular, bold] = [
    await document.embedFont(StandardFonts.Helvetica),
    await document.embedFont(StandardFonts.HelveticaBold),
  ];
  const ink = rgb(0.11, 0.11, 0.1);
  page.drawText(plain(sheet.name), { x: MARGIN, y: PAGE.height - 54, size: 18, font: bold, color: ink });
  const facts = `${garmentOf(sheet).name} · print ${inch(sheet.print.widthMm)} x ${inch(sheet.print.heightMm)} · ${sheet.film.date}`;
  page.drawText(plain(facts), { x: MARGIN, y: PAGE.height - 72, size: 9, font: regular, color: ink });
  const image = await document.embedPng(picture);
  const width = PAGE.width - 2 * MARGIN;
  const height = Math.min(520, (width * GARMENT_DRAWING.height) / GARMENT_DRAWING.width);
  const shown = (height * GARMENT_DRAWING.width) / GARMENT_DRAWING.height;
  page.drawImage(image, { x: (PAGE.width - shown) / 2, y: PAGE.height - 90 - height, width: shown, height });
  let x = MARGIN;
  let y = PAGE.height - 112 - height;
  for (const plate of sheet.plates.filter((each) => each.role !== 'underbase')) {
    const name = plain(plate.ink.name);
    const room = regular.widthOfTextAtSize(name, 9) + 34;
    if (x + room > PAGE.width - MARGIN) {
      x = MARGIN;
      y -= 18;
    }
    const [r, g, b] = parseHexColour(plate.ink.colour);
    page.drawRectangle({
      x,
      y,
      width: 11,
      height: 11,
      color: rgb(r / 255, g / 255, b / 255),
      borderColor: ink,
      borderWidth: 0.4,
    });
    page.drawText(name, { x: x + 16, y: y + 2, size: 9, font: regular, color: ink });
    x += room;
  }
  const note =
    'Colours on a screen or from a desk printer are an approximation; nothing was measured on press.';
  page.drawText(note, { x: MARGIN, y: 70, size: 8, font: regular, color: ink });
  page.drawLine({ start: { x: MARGIN, y: 44 }, end: { x: 280, y: 44 }, thickness: 0.6, color: ink });
  page.drawLine({
    start: { x: 320, y: 44 },
    end: { x: PAGE.width - MARGIN, y: 44 },
    thickness: 0.6,
    color: ink,
  });
  page.drawText('approved', { x: MARGIN, y: 33, size: 8, font: regular, color: ink });
  page.drawText('date', { x: 320, y: 33, size: 8, font: regular, color: ink });
  return document.save();
}
