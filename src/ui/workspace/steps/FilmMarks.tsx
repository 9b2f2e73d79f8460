'use client';

import { changePlates } from '@/core/separation';
import { type JobSheet, LABEL_FIELDS, type Plate } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { LengthField } from '../../controls/LengthField';
import { ChoiceSetting, SwitchSetting } from '../../controls/Setting';
import { useUnit } from '../../state/useStored';

interface Props {
  readonly sheet: JobSheet;
  readonly plate: Plate;
  readonly commit: (sheet: JobSheet) => void;
}

const FIELD_NAMES: Readonly<Record<(typeof LABEL_FIELDS)[number], string>> = {
  job: 'job',
  role: 'role',
  size: 'print size',
  screen: 'screen',
  gain: 'gain',
  mesh: 'mesh',
  date: 'date',
};

/** What stands on the films beside the print. */
export function FilmMarks({ sheet, plate, commit }: Props) {
  const [unit] = useUnit();
  const { film } = sheet;
  const { marks } = film;
  const set = (change: Partial<typeof film>) => commit({ ...sheet, film: { ...film, ...change } });
  const setMarks = (change: Partial<typeof marks>) => set({ marks: { ...marks, ...change } });
  return (
    <>
      <section>
        <h2 className="font-semibold">Marks</h2>
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
        <SwitchSetting
          name={`On the film of ${plate.ink.name}`}
          on={plate.withMarks}
          onChange={(withMarks) => commit(changePlates(sheet, [plate.id], () => ({ withMarks })))}
        />
      </section>
      <section>
        <h2 className="font-semibold">Label</h2>
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
      </section>
    </>
  );
}
