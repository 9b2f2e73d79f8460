'use client';

import { useState } from 'react';
import { artworkDpi } from '@/core/checks';
import { LIMITS, printsTones, paletteOf } from '@/core/sheet';
import { MM_PER_INCH, trimNumber } from '@/core/units';
import { LengthField } from '../../controls/LengthField';
import { SwitchSetting } from '../../controls/Setting';
import { TextField } from '../../controls/TextField';
import { startCleaning } from '../../state/api';
import { useUnit } from '../../state/useStored';
import { type DeskState, useDesk, useSheet } from '../desk/desk';
import { RevisionProgress } from './RevisionProgress';
import { useRevision } from './useRevision';

/** Flat pictures; drawings have smooth edges already, and tones have no areas. */
export function canBeCleaned({ artwork, sheet }: DeskState): boolean {
  return artwork.kind === 'raster' && !printsTones(sheet);
}

/** Smaller pieces come from compression or dust on a scan: they wash off, or are no larger than noise. */
const LEAST_MM = 0.25;
const LEAST_PX = 1.5;

/** As many as the job prints apart, and what it leaves to the garment. */
function usualCount(sheet: DeskState['sheet']): number {
  const apart = new Set(
    paletteOf(sheet).map(({ plateId, tint, colour }) => (plateId ? `${plateId} ${tint}` : colour)),
  );
  return Math.max(2, apart.size);
}

/** Makes smooth areas of a picture that is coarse or damaged. */
export function CleanSection() {
  const sheet = useSheet();
  const jobId = useDesk((desk) => desk.jobId);
  const whenSaved = useDesk((desk) => desk.whenSaved);
  const [unit] = useUnit();
  const [count, setCount] = useState<number | null>(null);
  const [least, setLeast] = useState<number | null>(null);
  const [withoutFrame, setWithoutFrame] = useState(false);
  const revision = useRevision();
  const colours = count ?? usualCount(sheet);
  const dpi = artworkDpi(sheet);
  const leastMm = least ?? Math.max(LEAST_MM, dpi === null ? 0 : (LEAST_PX * MM_PER_INCH) / dpi);
  const start = () =>
    revision.start(async () => startCleaning(jobId, await whenSaved(), { colours, leastMm, withoutFrame }));
  return (
    <>
      <p className="caption">
        {dpi === null ? 'A picture' : `A picture of ${trimNumber(dpi, 0)} dpi`} has steps at its edges, and a
        JPEG has noise round them. Its flat colours can become a drawing with smooth edges.
      </p>
      <TextField
        label="Colours"
        value={String(colours)}
        maxLength={2}
        check={(text) =>
          /^\d+$/.test(text) && Number(text) >= 1 && Number(text) <= LIMITS.maxPaletteColours
            ? null
            : `A number from 1 to ${LIMITS.maxPaletteColours}.`
        }
        onChange={(text) => setCount(Number(text))}
      />
      <LengthField
        label="Drop pieces below"
        valueMm={leastMm}
        unit={unit}
        maxMm={5}
        hint="the side of a square of their area"
        onChange={setLeast}
      />
      <SwitchSetting name="Take a frame round the design away" on={withoutFrame} onChange={setWithoutFrame} />
      <button
        type="button"
        className="plain-button mt-1"
        disabled={revision.working !== null}
        onClick={start}
      >
        Show smooth areas
      </button>
      <RevisionProgress state={revision} />
    </>
  );
}
