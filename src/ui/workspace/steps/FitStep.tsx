'use client';

import { memo } from 'react';
import { NARROW_GAP_MM, adviseBase, changePlate } from '@/core/separation';
import { LIMITS, type Plate, effectiveChokeMm, isSimulated } from '@/core/sheet';
import { formatLength, mmToPx, trimNumber } from '@/core/units';
import { Choice, Swatch } from '../../controls/Choice';
import { LengthField } from '../../controls/LengthField';
import { PercentSlider } from '../../controls/PercentSlider';
import { FitSection } from './FitSection';
import { FindingList } from './FindingList';
import type { StepProps } from './stepProps';

const OWN = 'own';

/** Why a base is proposed under an ink or not, and whether its strength still follows that. */
function baseReason(plate: Plate, garmentColour: string): string {
  const { strength, reason } = adviseBase(plate.ink, garmentColour);
  const proposed = strength === 1 ? `solid: ${reason}` : `none: ${reason}`;
  return plate.baseStrength === strength ? proposed : `yours; proposed is ${proposed}`;
}

export const FitStep = memo(function FitStep({ sheet, stock, findings, onGoTo, commit }: StepProps) {
  const { fit } = sheet;
  const choke = effectiveChokeMm(sheet);
  const dots = (mm: number) => `${trimNumber(mmToPx(mm, sheet.film.dpi), 1)} dots of film`;
  const say = (mm: number) =>
    `${formatLength(mm, 'pt')} · ${formatLength(mm, 'px')} at 300 dpi · ${dots(mm)}`;
  const setFit = (change: Partial<typeof fit>) => commit({ ...sheet, fit: { ...fit, ...change } });
  // The base of tones is one of them: how strong it is under which colour is solved for.
  const toned = isSimulated(sheet);
  const based = sheet.plates.some((plate) => plate.role === 'underbase');
  const length = { unit: 'mm' as const, minMm: 0, maxMm: LIMITS.maxChokeMm };
  return (
    <div className="space-y-5">
      {based ? (
        <FitSection sheet={sheet} chokeMm={choke} onChoke={(chokeMm) => setFit({ chokeMm })} />
      ) : (
        <p>No ink asks for an underbase on this garment, so there is none.</p>
      )}
      <section>
        <h2 className="font-semibold">Registration</h2>
        <div className="mt-1 flex items-center justify-between gap-3">
          <span>Press</span>
          <Choice
            label="Press"
            className="w-44"
            value={stock.presses.find((each) => each.name === fit.press.name)?.name ?? OWN}
            options={stock.presses.map((each) => ({
              value: each.name,
              label: `${each.name}, ${formatLength(each.toleranceMm, 'mm')}`,
            }))}
            onChange={(name) =>
              setFit({ press: stock.presses.find((each) => each.name === name)!, chokeMm: null })
            }
          />
        </div>
      </section>
      {based && (
        <section>
          <h2 className="font-semibold">Underbase</h2>
          <LengthField
            label="Choke"
            valueMm={choke}
            {...length}
            hint={`${say(choke)}${fit.chokeMm === null ? ' · the press tolerance' : ''}`}
            onChange={(chokeMm) => setFit({ chokeMm })}
          />
          {!toned && (
            <LengthField
              label="Under dark inks"
              valueMm={fit.underDarkMm}
              {...length}
              hint="runs this far under a dark ink without base"
              onChange={(underDarkMm) => setFit({ underDarkMm })}
            />
          )}
          <LengthField
            label="Keep at least"
            valueMm={fit.keepMm}
            {...length}
            hint="under fine strokes the choke gives way"
            onChange={(keepMm) => setFit({ keepMm })}
          />
        </section>
      )}
      {based && !toned && (
        <section>
          <h2 className="font-semibold">Strength under each ink</h2>
          <ul className="mt-1">
            {sheet.plates
              .filter((plate) => plate.role !== 'underbase')
              .map((plate) => (
                <li key={plate.id} className="flex items-center gap-2">
                  <Swatch colour={plate.ink.colour} />
                  <div className="min-w-0 flex-1">
                    <PercentSlider
                      label={plate.ink.name}
                      value={plate.baseStrength}
                      onChange={(baseStrength) => commit(changePlate(sheet, plate.id, { baseStrength }))}
                    />
                    <p className="caption -mt-1 pb-0.5">{baseReason(plate, sheet.garment.colour)}</p>
                  </div>
                </li>
              ))}
          </ul>
        </section>
      )}
      <section>
        <h2 className="font-semibold">Colours</h2>
        {!toned && (
          <LengthField
            label="Spread"
            valueMm={fit.spreadMm}
            {...length}
            hint={fit.spreadMm > 0 ? say(fit.spreadMm) : 'over the base, into bare garment'}
            onChange={(spreadMm) => setFit({ spreadMm })}
          />
        )}
        <LengthField
          label="Highlight white choke"
          valueMm={fit.highlightChokeMm}
          {...length}
          hint={
            fit.highlightChokeMm > 0
              ? say(fit.highlightChokeMm)
              : 'white squeezes out; 1 px at 300 dpi is usual'
          }
          onChange={(highlightChokeMm) => setFit({ highlightChokeMm })}
        />
        {sheet.artwork.kind === 'vector' && !toned && (
          <LengthField
            label="Close gaps below"
            valueMm={fit.closeGapsMm}
            unit="mm"
            minMm={0}
            maxMm={LIMITS.maxGapMm}
            hint={
              fit.closeGapsMm > 0
                ? say(fit.closeGapsMm)
                : `slits between shapes; ${NARROW_GAP_MM} mm is what no press holds open`
            }
            onChange={(closeGapsMm) => setFit({ closeGapsMm })}
          />
        )}
      </section>
      <FindingList findings={findings} onGoTo={onGoTo} />
    </div>
  );
});
