import Link from 'next/link';

/** The sign of the application; leads to the jobs. */
export function Mark() {
  return (
    <Link href="/" aria-label="Kerameus: all jobs" className="inline-flex items-center gap-2 rounded-[3px]">
      <svg viewBox="0 0 32 32" aria-hidden className="size-6">
        <path d="M6 4h20v4c-3 2-4 4-4 8s1 6 4 8v4H6v-4c3-2 4-4 4-8S9 10 6 8Z" fill="#a8492b" />
        <path d="M12 11h8v2h-8Zm0 4h8v2h-8Zm0 4h8v2h-8Z" fill="#f4f4f2" />
      </svg>
    </Link>
  );
}
