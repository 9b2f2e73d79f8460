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
      <span>
        {working.step}: {working.fileName}
      </span>
      {working.cancel && (
        <button type="button" className="underline" onClick={working.cancel}>
          Cancel
        </button>
      )}
    </p>
  );
}
