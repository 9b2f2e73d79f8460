'use client';

import { useState } from 'react';
import { type TonePair, parseReadings } from '@/core/tone';
import { type ErrorReport, KerameusError, trimNumber } from '@/core/units';
import { Problem } from '../../controls/Problem';

interface Props {
  /** What the two columns are. */
  readonly label: string;
  readonly known: readonly TonePair[] | null;
  readonly onTake: (pairs: [number, number][]) => void;
  readonly onCancel: () => void;
}

const percent = (value: number) => trimNumber(value * 100, 1);

/** Readings of a step wedge, typed or pasted. */
export function ReadingsForm({ label, known, onTake, onCancel }: Props) {
  const [text, setText] = useState(() =>
    (known ?? []).map(([a, b]) => `${percent(a)} ${percent(b)}`).join('\n'),
  );
  const [problem, setProblem] = useState<ErrorReport | null>(null);
  const take = () => {
    try {
      onTake(parseReadings(text).map(([a, b]): [number, number] => [a, b]));
    } catch (thrown) {
      if (!(thrown instanceof KerameusError)) throw thrown;
      setProblem(thrown.toReport());
    }
  };
  return (
    <div className="mt-1 space-y-2">
      <label className="block">
        {label}
        <textarea
          className="field mt-1 h-32 w-full font-mono"
          value={text}
          placeholder={'10 19\n25 41\n50 69\n75 91'}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      {problem && <Problem report={problem} />}
      <div className="flex gap-2">
        <button type="button" className="plain-button" onClick={take}>
          Use them
        </button>
        <button type="button" className="plain-button" onClick={onCancel}>
          Cancel
        </button>
      </div>
    </div>
  );
}
