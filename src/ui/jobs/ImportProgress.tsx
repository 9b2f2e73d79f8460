import type { useArtworkDrop } from './useArtworkDrop';

/** What is being done with the file that was dropped, and the way to stop it. */
export function ImportProgress({ drop }: { readonly drop: ReturnType<typeof useArtworkDrop> }) {
  const { working } = drop;
  if (!working) return null;
  return (
    <p
      role="status"
      className="flex items-center justify-between gap-3 border border-line bg-white px-3 py-2"
    >
      <span className="min-w-0 truncate">
        {working.step}: {working.fileName}
      </span>
      <progress
        className="ml-auto h-1.5 w-40 shrink-0 accent-clay"
        // Without a value the bar runs to and fro.
        {...(working.done === null ? {} : { value: working.done })}
        max={1}
        aria-label={working.step}
      />
      {working.cancel && (
        <button type="button" className="underline" onClick={working.cancel}>
          Cancel
        </button>
      )}
    </p>
  );
}
