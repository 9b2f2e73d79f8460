'use client';

import type { ReactNode } from 'react';
import { useRef } from 'react';

interface Props {
  /** For those who do not see the button: what the file is. */
  readonly label: string;
  readonly title: string;
  readonly className: string;
  readonly disabled: boolean;
  readonly onFile: (file: File) => void;
  readonly children: ReactNode;
}

/** A button that asks for one file. */
export function FileButton({ label, title, className, disabled, onFile, children }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <button
        type="button"
        className={`plain-button ${className}`}
        disabled={disabled}
        title={title}
        onClick={() => input.current?.click()}
      >
        {children}
      </button>
      <input
        ref={input}
        type="file"
        className="hidden"
        aria-label={label}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          // The same file may be chosen once more.
          event.target.value = '';
          if (file) onFile(file);
        }}
      />
    </>
  );
}
