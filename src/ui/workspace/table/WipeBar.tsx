'use client';

interface WipeProps {
  readonly at: number;
  readonly across: boolean;
  /** Of what it wipes; left out: it wipes all of the element that it stands in, whatever size that comes to have. */
  readonly size?: { readonly width: number; readonly height: number };
  readonly onMove: (at: number) => void;
}

/** The line of the wipe; dragged, or moved by arrow keys. */
export function WipeBar({ at, across, size, onMove }: WipeProps) {
  const clamp = (value: number) => Math.min(1, Math.max(0, value));
  const along = size ? at * (across ? size.height : size.width) - 6 : `calc(${at * 100}% - 6px)`;
  const style = across ? { top: along } : { left: along };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Wipe"
      aria-valuenow={Math.round(at * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-orientation={across ? 'vertical' : 'horizontal'}
      className={`absolute grid place-items-center ${across ? 'inset-x-0 h-3 cursor-row-resize' : 'inset-y-0 w-3 cursor-col-resize'}`}
      style={style}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        const bounds = event.currentTarget.parentElement!.getBoundingClientRect();
        onMove(
          clamp(
            across
              ? (event.clientY - bounds.top) / bounds.height
              : (event.clientX - bounds.left) / bounds.width,
          ),
        );
      }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -0.02, ArrowUp: -0.02, ArrowRight: 0.02, ArrowDown: 0.02 }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(clamp(at + by));
      }}
    >
      <span className={`border border-ink/40 bg-white ${across ? 'h-[3px] w-full' : 'h-full w-[3px]'}`} />
    </div>
  );
}
