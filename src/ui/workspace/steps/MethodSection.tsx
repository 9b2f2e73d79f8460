'use client';

import { useState } from 'react';
import { type InkOffer, bestOffer, withOffer } from '@/core/pipeline';
import { chooseInkSet, isFullTone, keepFlat, toSimulated, toSpot, toSupplied } from '@/core/separation';
import { type JobSheet, isSupplied, printsTones, methodOf } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { ChoiceSetting } from '../../controls/Setting';
import { useDesk, useSheet } from '../desk/desk';

const METHOD_WORDS = [
  { value: 'spot', label: 'flat colours on inks' },
  { value: 'simulated', label: 'tones of all inks' },
  { value: 'supplied', label: 'plates of the file' },
] as const;

/** How the artwork becomes plates, and what speaks for either way. */
export function MethodSection() {
  const sheet = useSheet();
  const artwork = useDesk((desk) => desk.artwork);
  const change = useDesk((desk) => desk.change);
  const search = useFirstInks();
  const { flatShare, plates } = artwork.notes;
  const named = plates?.plates ?? [];
  const stock = useDesk((desk) => desk.stock.inks);
  return (
    <>
      <ChoiceSetting
        name="Printed as"
        value={search.screens === null ? methodOf(sheet) : 'simulated'}
        options={METHOD_WORDS.filter(
          ({ value }) => value !== 'supplied' || named.length > 0 || isSupplied(sheet),
        )}
        onChange={(method) => {
          if (method !== 'simulated') search.cancel();
          if (method === methodOf(sheet)) return;
          if (method === 'simulated') search.begin();
          else if (method === 'supplied') change((now) => toSupplied(now, named, stock));
          else change((now) => toSpot(now, artwork.flat));
        }}
      />
      {search.screens !== null && (
        <div className="flex items-center gap-2 py-1" role="status">
          <progress
            className="flex-1"
            max={MOST_FIRST}
            value={search.screens}
            aria-label="Looking for inks"
          />
          <span className="caption">Looking for inks …</span>
          <button type="button" className="field py-0" onClick={search.cancel}>
            Cancel
          </button>
        </div>
      )}
      {named.length > 0 && !isSupplied(sheet) && (
        <p className="caption">
          The file names {named.length} plates of its own: {named.map(({ name }) => name).join(', ')}. They
          can be taken as they are.
        </p>
      )}
      <p className="caption">
        {flatShare === null
          ? 'Flat colours print solid; paintings and photographs want tones.'
          : `Flat colours explain ${trimNumber(flatShare * 100, 0)} % of the artwork's areas.`}
        {printsTones(sheet) ? ' Changing back finds its colours as they came in.' : ''}
      </p>
    </>
  );
}

/** Screens of the largest set that is looked for before a job's first tones. */
const MOST_FIRST = 8;

/** Makes a job of flat colours one of tones, with the inks of stock that come nearest to its artwork. */
function useFirstInks() {
  const sheet = useSheet();
  const { flat, hasOuterMap, notes } = useDesk((desk) => desk.artwork);
  const isFlat = notes.flatShare !== null && !isFullTone(notes.flatShare, flat.transitions);
  const stock = useDesk((desk) => desk.stock.inks);
  const pool = useDesk((desk) => desk.pool);
  const change = useDesk((desk) => desk.change);
  /** How many screens inks were found for; null: nobody looks. */
  const [screens, setScreens] = useState<number | null>(null);
  /** What is flat stays solid where an ink is near. */
  const asTones = (now: JobSheet) => {
    const next = toSimulated(now, flat);
    return isFlat ? keepFlat(next, notes.keepable) : next;
  };
  const begin = () => {
    setScreens(0);
    const toned = asTones(sheet);
    let offers: InkOffer[] = [];
    const question = { sheet: { ...toned, plates: [] }, hasOuterMap, stock, most: MOST_FIRST };
    void pool
      .adviseInks({ ...question, wanted: ['offer'], isAwaited: true }, (part) => {
        if (part.kind !== 'offer') return;
        offers = withOffer(offers, part.offer);
        setScreens(offers.length);
      })
      .catch(() => true)
      .then((isDone) => {
        if (!isDone) return;
        setScreens(null);
        const best = bestOffer(toned, offers);
        // Where none were found the inks are those that every job could begin with.
        change((now) => {
          const next = asTones(now);
          return best ? chooseInkSet(next, best.inks) : next;
        });
      });
  };
  const cancel = () => {
    pool.stopInks();
    setScreens(null);
  };
  return { screens, begin, cancel };
}
