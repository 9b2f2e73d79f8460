/** Lies over a page while a file is held above it. */
export function DropVeil() {
  return (
    <div className="pointer-events-none fixed inset-0 z-40 grid place-items-center border-4 border-clay bg-slip/85 text-lg">
      Drop the artwork to begin a job
    </div>
  );
}
