'use client';

import { Plus, X } from 'lucide-react';
import { type JobSheet, type Plate, sharesOf, withShare } from '@/core/sheet';
import { Choice } from '../../controls/Choice';
import { SheetSlider } from '../desk/SheetFields';
import { type DeskState, plateOf, useDesk, usePlate, useSheet } from '../desk/desk';

/** A share as it begins. */
const FIRST = 0.2;

/** How a folded heading says it. */
export function sharesState(desk: DeskState): string {
  const plate = plateOf(desk);
  const { length } = plate ? sharesOf(plate) : [];
  return length === 0 ? 'none' : String(length);
}

/** What the plate that is worked on takes of the others' tones, or gives away for them. */
export function SharesSection() {
  const sheet = useSheet();
  const plate = usePlate();
  return plate && <Shares key={plate.id} sheet={sheet} plate={plate} />;
}

function Shares({ sheet, plate }: { readonly sheet: JobSheet; readonly plate: Plate }) {
  const change = useDesk((desk) => desk.change);
  const shares = sharesOf(plate);
  const others = sheet.plates.filter(
    ({ id }) => id !== plate.id && !shares.some(({ plateId }) => plateId === id),
  );
  return (
    <>
      <p className="caption">
        Wherever another plate prints, {plate.ink.name} prints so much of it more, or less below 0. It stays
        when inks are solved for again.
      </p>
      {shares.map(({ plateId, share }) => {
        const other = sheet.plates.find(({ id }) => id === plateId);
        // A plate that is gone counts nothing until it is there again.
        if (!other) return null;
        return (
          <div key={plateId} className="flex items-center gap-2">
            <div className="min-w-0 flex-1">
              <SheetSlider
                label={other.ink.name}
                min={-100}
                value={share}
                apply={(now, value) => withShare(now, plate.id, { plateId, share: value })}
              />
            </div>
            <button
              type="button"
              className="hit"
              aria-label={`No share of ${other.ink.name}`}
              title="Take it away"
              onClick={() => change((now) => withShare(now, plate.id, { plateId, share: null }))}
            >
              <X aria-hidden className="size-4" />
            </button>
          </div>
        );
      })}
      <Choice
        icon={<Plus aria-hidden className="size-4" />}
        label="Add a share of a plate"
        className="mt-1 w-44"
        value=""
        shown={{ value: '', label: 'a share of …' }}
        options={others.map(({ id, ink }) => ({ value: id, label: ink.name, colour: ink.colour }))}
        onChange={(plateId) => change((now) => withShare(now, plate.id, { plateId, share: FIRST }))}
      />
    </>
  );
}
