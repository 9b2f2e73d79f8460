'use client';

import { printedEnds, withAdjustment } from '@/core/separation';
import { type Adjustment, type JobSheet, fullToneLayer } from '@/core/sheet';
import { PLAIN_CURVE } from '@/core/stages';
import { SwitchSetting } from '../../controls/Setting';
import { SheetSlider } from '../desk/SheetFields';
import { type DeskState, useDesk, useSheet } from '../desk/desk';
import { CurveEditor, percent } from './CurveEditor';

const UNCHANGED: Adjustment = { contrast: 0, saturation: 0, curve: PLAIN_CURVE, ends: null };

const adjustmentOf = (sheet: JobSheet) => fullToneLayer(sheet)?.adjust ?? UNCHANGED;

const signed = (share: number) => `${share > 0 ? '+' : '−'}${percent(Math.abs(share))} %`;

/** What is changed, in the section's heading. */
export function adjustState({ sheet }: Pick<DeskState, 'sheet'>): string {
  const { contrast, saturation, curve, ends } = adjustmentOf(sheet);
  const words = [
    ...(contrast === 0 ? [] : [`contrast ${signed(contrast)}`]),
    ...(saturation === 0 ? [] : [`saturation ${signed(saturation)}`]),
    ...(JSON.stringify(curve) === JSON.stringify(PLAIN_CURVE) ? [] : ['curve']),
    ...(ends ? ['ends fitted'] : []),
  ];
  return words.length === 0 ? 'as it came' : words.join(', ');
}

/** How the artwork's colours are changed before they are separated. */
export function AdjustSection() {
  const sheet = useSheet();
  const change = useDesk((desk) => desk.change);
  const settled = adjustmentOf(sheet);
  return (
    <>
      <Amount name="Contrast" of="contrast" />
      <Amount name="Saturation" of="saturation" />
      <FittedEnds />
      <CurveEditor
        settled={settled.curve}
        apply={(now, curve) => withAdjustment(now, { ...adjustmentOf(now), curve })}
        label="Lightness of the artwork: across as it came, upwards as it is separated"
        colour="#8a8984"
        words={['as it came', 'becomes']}
        describe={(through) => `50 % becomes ${percent(through(0.5))} %`}
        plain="lightness as the artwork has it"
      />
      <p className="caption">
        The table’s artwork, the difference and the choice of inks are of the changed artwork.
      </p>
      {fullToneLayer(sheet)?.adjust && (
        <button
          type="button"
          className="plain-button mt-1"
          onClick={() => change((now) => withAdjustment(now, null))}
        >
          As it came
        </button>
      )}
    </>
  );
}

/** Black and white of the artwork as far as they can be printed. */
function FittedEnds() {
  const sheet = useSheet();
  const change = useDesk((desk) => desk.change);
  const { ends } = adjustmentOf(sheet);
  const fit = (now: JobSheet) => withAdjustment(now, { ...adjustmentOf(now), ends: printedEnds(now) });
  const isOld = ends !== null && JSON.stringify(ends) !== JSON.stringify(printedEnds(sheet));
  return (
    <>
      <SwitchSetting
        name="Fit black and white to the print"
        on={ends !== null}
        onChange={(on) =>
          change(on ? fit : (now) => withAdjustment(now, { ...adjustmentOf(now), ends: null }))
        }
      />
      {isOld && (
        <p className="caption">
          Garment or inks have changed since.{' '}
          <button type="button" className="plain-button" onClick={() => change(fit)}>
            Fit again
          </button>
        </p>
      )}
    </>
  );
}

function Amount({ name, of }: { readonly name: string; readonly of: 'contrast' | 'saturation' }) {
  const sheet = useSheet();
  return (
    <SheetSlider
      label={name}
      min={-100}
      value={adjustmentOf(sheet)[of]}
      apply={(now, value) => withAdjustment(now, { ...adjustmentOf(now), [of]: value })}
    />
  );
}
