'use client';

import { changePlates } from '@/core/separation';
import { type JobSheet, LABEL_FIELDS } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { LengthField } from '../../controls/LengthField';
import { ChoiceSetting, SwitchSetting } from '../../controls/Setting';
import { useUnit } from '../../state/useStored';
import { useDesk } from '../desk/desk';
import { useFilmPlate, useSetFilm } from './FilmSections';

const FIELD_NAMES: Readonly<Record<(typeof LABEL_FIELDS)[number], string>> = {
  job: 'job',
  role: 'role',
  size: 'print size',
  screen: 'screen',
  gain: 'gain',
  mesh: 'mesh',
  date: 'date',
};

/** What stands beside the print, in a few words. */
export function marksState({ film }: JobSheet): string {
  const { register, centre, crop, pallet, wedge } = film.marks;
  const words = [
    register && 'registration',
    centre && 'centre',
    crop && 'corners',
    pallet && 'pallet',
    wedge && 'wedge',
  ].filter((word) => word !== false);
  return words.length > 0 ? words.join(', ') : 'none';
}

/** What stands on the films beside the print. */
export function MarksSection() {
  const [unit] = useUnit();
  const { marks } = useDesk((desk) => desk.sheet.film);
  const plate = useFilmPlate();
  const change = useDesk((desk) => desk.change);
  const set = useSetFilm();
  const setMarks = (part: Partial<typeof marks>) => set({ marks: { ...marks, ...part } });
  return (
    <>
      <SwitchSetting
        name="Registration marks"
        on={marks.register}
        onChange={(register) => setMarks({ register })}
      />
      {marks.register && (
        <>
          <ChoiceSetting
            name="Stand"
            label="Place of the marks"
            value={marks.place}
            options={[
              { value: 'auto', label: 'where there is room' },
              { value: 'sides', label: 'at the middles of the sides' },
              { value: 'corners', label: 'at the corners' },
              { value: 'three', label: 'two above, one below' },
            ]}
            onChange={(place) => setMarks({ place })}
          />
          <ChoiceSetting
            name="Design"
            value={marks.design}
            options={[
              { value: 'ring', label: 'cross and ring' },
              { value: 'square', label: 'cross and quarters' },
            ]}
            onChange={(design) => setMarks({ design })}
          />
          <LengthField
            label="Mark size"
            valueMm={marks.sizeMm}
            unit={unit}
            minMm={4}
            maxMm={25}
            onChange={(sizeMm) => setMarks({ sizeMm })}
          />
          <LengthField
            label="From the edge"
            valueMm={marks.fromEdgeMm}
            unit={unit}
            minMm={3}
            maxMm={100}
            onChange={(fromEdgeMm) => setMarks({ fromEdgeMm })}
          />
        </>
      )}
      <LengthField
        label="Line"
        valueMm={marks.lineMm}
        unit="pt"
        minMm={0.1}
        maxMm={1}
        hint={
          marks.lineMm < (0.75 * 25.4) / 72 - 1e-6
            ? `${trimNumber(marks.lineMm, 2)} mm: below 0.75 pt a coarse mesh may lose it`
            : `${trimNumber(marks.lineMm, 2)} mm`
        }
        onChange={(lineMm) => setMarks({ lineMm })}
      />
      <SwitchSetting name="Centre lines" on={marks.centre} onChange={(centre) => setMarks({ centre })} />
      <SwitchSetting name="Corners of the print" on={marks.crop} onChange={(crop) => setMarks({ crop })} />
      <LengthField
        label="Bleed beyond the corners"
        valueMm={marks.bleedMm}
        unit={unit}
        minMm={0}
        maxMm={25}
        onChange={(bleedMm) => setMarks({ bleedMm })}
      />
      <SwitchSetting
        name="Middle of the pallet"
        on={marks.pallet}
        onChange={(pallet) => setMarks({ pallet })}
      />
      <SwitchSetting
        name="Step wedge in the plate's own dots"
        on={marks.wedge}
        onChange={(wedge) => setMarks({ wedge })}
      />
      {plate && (
        <SwitchSetting
          name={`On the film of ${plate.ink.name}`}
          on={plate.withMarks}
          onChange={(withMarks) => change((now) => changePlates(now, [plate.id], () => ({ withMarks })))}
        />
      )}
    </>
  );
}

export function labelState({ film }: JobSheet): string {
  return film.label ? film.labelFields.map((field) => FIELD_NAMES[field]).join(', ') : 'none';
}

export function LabelSection() {
  const film = useDesk((desk) => desk.sheet.film);
  const set = useSetFilm();
  return (
    <>
      <SwitchSetting name="Label" on={film.label} onChange={(label) => set({ label })} />
      {film.label && (
        <div className="grid grid-cols-2">
          {LABEL_FIELDS.map((field) => (
            <SwitchSetting
              key={field}
              name={FIELD_NAMES[field]}
              on={film.labelFields.includes(field)}
              onChange={(on) =>
                set({
                  labelFields: LABEL_FIELDS.filter((each) =>
                    each === field ? on : film.labelFields.includes(each),
                  ),
                })
              }
            />
          ))}
        </div>
      )}
    </>
  );
}
