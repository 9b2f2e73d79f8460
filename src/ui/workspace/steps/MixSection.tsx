'use client';

import { useMemo } from 'react';
import { mixInk } from '@/core/separation';
import { trimNumber } from '@/core/units';
import { Swatch } from '../../controls/Choice';
import { type DeskState, plateOf, useDesk, usePlate } from '../desk/desk';

/** Whether the ink of the plate that is worked on is none of stock. */
export function isMixed(desk: DeskState): boolean {
  const plate = plateOf(desk);
  return (
    plate !== null &&
    plate.special === null &&
    !desk.stock.inks.some(({ colour }) => colour === plate.ink.colour)
  );
}

const GRAMS = 1000;

/** Parts of stock inks that give the ink of the plate that is worked on. */
export function MixSection() {
  const plate = usePlate();
  const inks = useDesk((desk) => desk.stock.inks);
  const saveStock = useDesk((desk) => desk.saveStock);
  const stock = useDesk((desk) => desk.stock);
  const colour = plate?.ink.colour;
  const mix = useMemo(() => (colour ? mixInk(colour, inks) : null), [colour, inks]);
  if (!plate) return null;
  const isTaken = inks.some(({ name }) => name === plate.ink.name);
  if (!mix) return <p className="caption">There are no inks in stock to mix it from.</p>;
  return (
    <>
      <table className="mt-1 w-full">
        <caption className="sr-only">Inks of stock to mix {plate.ink.name} from</caption>
        <tbody>
          {mix.parts.map(({ ink, part }) => (
            <tr key={ink.name}>
              <td className="py-0.5">
                <span className="flex items-center gap-2">
                  <Swatch colour={ink.colour} /> {ink.name}
                </span>
              </td>
              <td className="text-right tabular-nums">{trimNumber(part * 100, 0)} parts</td>
              <td className="text-right tabular-nums">{trimNumber(part * GRAMS, 0)} g</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="caption">
        For 1 kg; {trimNumber(mix.difference, 1)} apart (CIEDE2000) by Kubelka and Munk’s model with one
        constant for each ink. Strengths of pigments are not measured: try it on cloth first.
      </p>
      <button
        type="button"
        className="plain-button mt-1"
        disabled={isTaken}
        onClick={() => saveStock({ ...stock, inks: [...inks, { ...plate.ink }] })}
      >
        Keep it in stock
      </button>
      {isTaken && <p className="caption">Stock has an ink of this name: give it one of its own first.</p>}
    </>
  );
}
