'use client';

import { changePlates } from '@/core/separation';
import { PLAIN_CURVE, withStage } from '@/core/stages';
import { usePlate } from '../desk/desk';
import { CurveEditor, isPlain, percent } from './CurveEditor';

/** What a plate prints for each tone that its colours give it. */
export function CurveSection() {
  const plate = usePlate();
  if (!plate) return null;
  return (
    <CurveEditor
      key={plate.id}
      settled={plate.stages.find(({ kind }) => kind === 'curve')?.points ?? PLAIN_CURVE}
      apply={(sheet, points) =>
        changePlates(sheet, [plate.id], ({ stages }) => ({
          stages: withStage(stages, 'curve', isPlain(points) ? null : { kind: 'curve', points }),
        }))
      }
      label={`Tone curve of ${plate.ink.name}: across what the artwork has, upwards what prints`}
      colour={plate.ink.colour}
      words={['artwork', 'prints as']}
      describe={(through) => `50 % prints as ${percent(through(0.5))} %, solid as ${percent(through(1))} %`}
      plain="tones print as the artwork has them"
    />
  );
}
