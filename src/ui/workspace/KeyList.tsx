'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { X } from 'lucide-react';
import type { KeyAction } from './keys';

interface Props {
  readonly open: boolean;
  readonly actions: readonly KeyAction[];
  readonly onClose: () => void;
}

/** All keys of the page. */
export function KeyList({ open, actions, onClose }: Props) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <div className="fixed inset-0 grid place-items-center p-6">
        <DialogPanel className="max-h-full w-[640px] max-w-full overflow-auto border border-quiet bg-white p-5">
          <div className="flex items-center justify-between">
            <DialogTitle className="text-base font-semibold">Keys</DialogTitle>
            <button type="button" aria-label="Close" onClick={onClose}>
              <X aria-hidden className="size-4" />
            </button>
          </div>
          <dl className="mt-3 columns-2 gap-8">
            {actions.map((action) => (
              <div key={action.shown} className="flex break-inside-avoid items-baseline gap-3 py-0.5">
                <dt className="w-24 shrink-0 text-right font-semibold">{action.shown}</dt>
                <dd>{action.does}</dd>
              </div>
            ))}
            <div className="flex break-inside-avoid items-baseline gap-3 py-0.5">
              <dt className="w-24 shrink-0 text-right font-semibold">arrows</dt>
              <dd>move the table, when it has the focus</dd>
            </div>
          </dl>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
