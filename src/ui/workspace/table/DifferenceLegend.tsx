import { DIFFERENCE_SCALE } from '@/core/pipeline';

/** What the shades of a difference mean. */
export function DifferenceLegend() {
  return (
    <figure className="absolute right-3 bottom-3 border border-line bg-white px-2.5 py-1.5">
      <figcaption className="caption">CIEDE2000 from the artwork</figcaption>
      <div className="mt-1 flex">
        {DIFFERENCE_SCALE.map(([difference, rgb], index) => (
          <span key={difference} className="w-9 text-center text-[11px]">
            <span
              aria-hidden
              className="block h-3.5 border-y border-line"
              style={{ background: `rgb(${rgb.join(' ')})` }}
            />
            {difference}
            {index === DIFFERENCE_SCALE.length - 1 ? '+' : ''}
          </span>
        ))}
      </div>
    </figure>
  );
}
