'use client';

import { changePlate, mergePlates, nearestInks, splitTints, tintsOf } from '@/core/separation';
import { type JobSheet, type Plate, isInk, printsTones } from '@/core/sheet';
import { Choice } from '../../controls/Choice';
import { ColourField } from '../../controls/ColourField';
import { TextField } from '../../controls/TextField';
import { SheetSlider } from '../desk/SheetFields';
import { useDesk, useDraft, usePlate, useSheet } from '../desk/desk';

export function PlateInkTitle() {
  const plate = usePlate();
  return plate && <>Ink of {plate.ink.name}</>;
}

/** The ink and the mesh of the plate that is worked on. */
export function PlateInkSection() {
  const plate = usePlate();
  return plate ? (
    <PlateInk key={plate.id} plate={plate} />
  ) : (
    <p className="caption">Choose a screen in the run to change its ink.</p>
  );
}

function PlateInk({ plate }: { readonly plate: Plate }) {
  const sheet = useSheet();
  const stock = useDesk((desk) => desk.stock);
  const change = useDesk((desk) => desk.change);
  const select = useDesk((desk) => desk.select);
  const near = nearestInks(stock.inks, plate.ink.colour).slice(0, 12);
  const withInk = (now: JobSheet, ink: Partial<Plate['ink']>) =>
    changePlate(now, plate.id, { ink: { ...plate.ink, ...ink } });
  const changeInk = (ink: Partial<Plate['ink']>) => change((now) => withInk(now, ink));
  const picked = useDraft(plate.ink.colour, (now, colour) => withInk(now, { colour }));
  const { tints, solids } = tintsOf(sheet, plate.id);
  const others = sheet.plates.filter((each) => isInk(each) && each.id !== plate.id);
  return (
    <>
      <TextField
        label="Name"
        value={plate.ink.name}
        maxLength={80}
        onChange={(name) => changeInk({ name })}
      />
      <div className="flex items-center justify-between py-1">
        <span>Colour</span>
        <ColourField
          label="Ink colour"
          value={plate.ink.colour}
          onHold={(colour) => (colour === null ? picked.drop() : picked.hold(colour))}
          onChange={picked.take}
        />
      </div>
      {plate.special === null && (
        <>
          <div className="flex items-center justify-between gap-3 py-1">
            <span>From stock</span>
            <Choice
              label={near[0] ? `nearest: ${near[0].ink.name}` : 'no inks in stock'}
              className="w-44"
              value=""
              options={near.map(({ ink, difference }) => ({
                value: ink.name,
                label: `${ink.name}, ${Math.round(difference)} apart`,
                colour: ink.colour,
              }))}
              onChange={(name) => changeInk(near.find(({ ink }) => ink.name === name)!.ink)}
            />
          </div>
          <SheetSlider
            label="Opacity"
            value={plate.ink.opacity}
            apply={(now, opacity) => withInk(now, { opacity })}
          />
        </>
      )}
      <TextField
        label="Mesh"
        value={String(plate.mesh)}
        maxLength={3}
        check={(text) =>
          /^\d+$/.test(text) && Number(text) >= 30 && Number(text) <= 500
            ? null
            : 'Threads per inch, 30 to 500.'
        }
        onChange={(text) => change((now) => changePlate(now, plate.id, { mesh: Number(text) }))}
      />
      {tints.length > 0 && solids.length > 0 && (
        <p className="py-1">
          <button
            type="button"
            className="plain-button"
            title="Dots want a finer mesh than solids"
            onClick={() => change((now) => splitTints(now, plate.id))}
          >
            Its {tints.length === 1 ? 'tint' : 'tints'} on a screen of {tints.length === 1 ? 'its' : 'their'}{' '}
            own
          </button>
        </p>
      )}
      {isInk(plate) && others.length > 0 && !printsTones(sheet) && (
        <div className="flex items-center justify-between gap-3 py-1">
          <span>Merge into</span>
          <Choice
            label="Merge into"
            className="w-40"
            value=""
            options={others.map((each) => ({
              value: each.id,
              label: each.ink.name,
              colour: each.ink.colour,
            }))}
            onChange={(into) => {
              change((now) => mergePlates(now, plate.id, into));
              select(into);
            }}
          />
        </div>
      )}
    </>
  );
}
