import { OFF_REASONS, type OffReason } from '@/core/checks';
import { REASON_COLOURS } from '@/core/pipeline';
import { trimNumber } from '@/core/units';
import { useDesk } from '../desk/desk';

const MEANINGS: Readonly<Record<OffReason, string>> = {
  inks: 'beyond these inks',
  light: 'lighter than they print',
  dark: 'darker than the garment',
  changed: 'curves, patches, solids, base, fit, garments',
  dots: 'dots smaller than the mesh holds',
};

/** What the colours of the reasons mean, and how much of the print is off by each on the garment that the plates are made for. */
export function ReasonsLegend() {
  const reasons = useDesk((desk) => desk.survey?.difference.reasons);
  return (
    <figure className="absolute right-3 bottom-3 border border-line bg-white px-2.5 py-1.5">
      <figcaption className="caption">2 off and more (CIEDE2000), strong from 5 on</figcaption>
      <ul className="mt-1 text-xs">
        {OFF_REASONS.map((reason) => (
          <li key={reason} className="flex items-center gap-2">
            <span
              aria-hidden
              className="size-3 border border-line"
              style={{ background: `rgb(${REASON_COLOURS[reason].join(' ')})` }}
            />
            <span className="flex-1">{MEANINGS[reason]}</span>
            <span className="tabular-nums">
              {reasons ? `${trimNumber(reasons[reason] * 100, 1)} %` : '…'}
            </span>
          </li>
        ))}
      </ul>
    </figure>
  );
}
