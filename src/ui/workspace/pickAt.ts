import type { TablePool } from '@/browser';
import { addColour, keepColour, solidPlates, splitColour } from '@/core/separation';
import { type JobSheet, paletteOf } from '@/core/sheet';
import { KerameusError } from '@/core/units';
import type { Outlining, Picking } from './desk/desk';
import type { TablePoint } from './table/Table';

/** A sheet with an ink of its own for what stands at a place: the colour everywhere, or only the area there; or, in tones, with that colour kept solid. */
export async function pickAt(
  pool: TablePool,
  sheet: JobSheet,
  hasOuterMap: boolean,
  at: TablePoint,
  how: Exclude<Picking, Outlining>,
): Promise<JobSheet> {
  if (how === 'here') {
    const found = await pool.outline({ sheet, hasOuterMap, ...at });
    if (!found) throw nothingThere();
    const { id, within } = paletteOf(sheet)[found.label]!;
    if (within) {
      throw new KerameusError({
        code: 'split-already',
        message: 'This area has an ink of its own already.',
        remedy: 'Change its ink in the list of colours.',
      });
    }
    return splitColour(sheet, id, found.outline);
  }
  const colour = await pool.sample({ sheet, hasOuterMap, ...at });
  if (!colour) throw nothingThere();
  if (how === 'keep') {
    const plateId = solidPlates(sheet, colour)[0]?.plate.id ?? null;
    return keepColour(sheet, colour, { as: 'ink', plateId });
  }
  const next = addColour(sheet, colour);
  if (next === sheet) {
    throw new KerameusError({
      code: 'colour-known',
      message: `The colour ${colour} is in the list already.`,
      remedy: 'Give it an ink there, or pick only this area of it.',
    });
  }
  return next;
}

function nothingThere(): KerameusError {
  return new KerameusError({
    code: 'nothing-there',
    message: 'There is no artwork at that place.',
    remedy: 'Click on a colour of the artwork.',
  });
}
