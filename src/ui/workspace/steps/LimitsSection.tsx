'use client';

import { type CheckLimits, DEFAULT_LIMITS, type JobSheet, checkLimitsSchema } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { TextField } from '../../controls/TextField';
import { useUnit } from '../../state/useStored';
import { type DeskState, useDesk, useSheet } from '../desk/desk';
import { SheetLength } from '../desk/SheetFields';

const same = (one: CheckLimits, other: CheckLimits) =>
  (Object.keys(one) as (keyof CheckLimits)[]).every((key) => one[key] === other[key]);

/** How a folded heading says it. */
export function limitsState({ sheet, stock }: Pick<DeskState, 'sheet' | 'stock'>): string {
  return same(sheet.limits, stock.limits) ? 'as in stock' : "this job's own";
}

const withLimits =
  (change: Partial<CheckLimits>) =>
  (sheet: JobSheet): JobSheet => ({ ...sheet, limits: { ...sheet.limits, ...change } });

interface Row {
  readonly key: Exclude<keyof CheckLimits, 'openingMm' | 'lineMm'>;
  readonly label: string;
  /** Numbers are typed as so many of what is stored. */
  readonly times: number;
}

const ROWS: readonly Row[] = [
  { key: 'rightDpi', label: 'Artwork is right from, dpi', times: 1 },
  { key: 'softDpi', label: 'Artwork is too low below, dpi', times: 1 },
  { key: 'visiblyOff', label: 'A colour is off from, CIEDE2000', times: 1 },
  { key: 'likeInks', label: 'Inks are alike below, CIEDE2000', times: 1 },
  { key: 'vanishing', label: 'A detail vanishes below, CIEDE2000', times: 1 },
  { key: 'emptyShare', label: 'A plate is nearly empty below, %', times: 100 },
  { key: 'plugging', label: 'Dots plug from, %', times: 100 },
  { key: 'pieces', label: 'Specks that may be there', times: 1 },
];

/** From where on the check of the print tells something. */
export function LimitsSection() {
  const { limits } = useSheet();
  const stock = useDesk((desk) => desk.stock);
  const saveStock = useDesk((desk) => desk.saveStock);
  const change = useDesk((desk) => desk.change);
  const [unit] = useUnit();
  return (
    <>
      <SheetLength
        label="Openings fill below"
        valueMm={limits.openingMm}
        unit={unit}
        maxMm={1}
        apply={(sheet, openingMm) => withLimits({ openingMm })(sheet)}
      />
      <SheetLength
        label="Lines break below"
        valueMm={limits.lineMm ?? 0}
        unit={unit}
        maxMm={1}
        hint={limits.lineMm === null ? '0: what the mesh of each plate holds' : 'the same on every mesh'}
        apply={(sheet, lineMm) => withLimits({ lineMm: lineMm === 0 ? null : lineMm })(sheet)}
      />
      {ROWS.map(({ key, label, times }) => (
        <TextField
          key={key}
          label={label}
          value={trimNumber(limits[key] * times, 3)}
          maxLength={8}
          check={(text) => {
            const tried = { ...limits, [key]: Number(text.replace(',', '.')) / times };
            return checkLimitsSchema.safeParse(tried).success ? null : 'That is no limit it can have.';
          }}
          onChange={(text) => change(withLimits({ [key]: Number(text.replace(',', '.')) / times }))}
        />
      ))}
      <div className="mt-2 flex flex-wrap gap-2">
        <button
          type="button"
          className="plain-button"
          disabled={same(limits, stock.limits)}
          onClick={() => saveStock({ ...stock, limits })}
        >
          Keep for new jobs
        </button>
        <button
          type="button"
          className="plain-button"
          disabled={same(limits, DEFAULT_LIMITS)}
          onClick={() => change(withLimits(DEFAULT_LIMITS))}
        >
          As usual in the trade
        </button>
      </div>
    </>
  );
}
