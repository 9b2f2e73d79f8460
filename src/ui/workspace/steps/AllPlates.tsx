'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { Table2, X } from 'lucide-react';
import { useState } from 'react';
import { PlateGrid } from './PlateGrid';

/** One grid of all plates with everything that they are set to; ticked rows change together. */
export function AllPlates() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className="plain-button" onClick={() => setOpen(true)}>
        <Table2 aria-hidden className="size-4" /> All plates in one grid
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} className="relative z-40">
        <div className="fixed inset-0 bg-ink/30" aria-hidden />
        <div className="fixed inset-0 grid place-items-center p-6">
          <DialogPanel className="max-h-full w-[860px] max-w-full overflow-auto border border-quiet bg-white p-5">
            <div className="flex items-center justify-between">
              <DialogTitle className="text-base font-semibold">All plates</DialogTitle>
              <button type="button" aria-label="Close" className="hit" onClick={() => setOpen(false)}>
                <X aria-hidden className="size-4" />
              </button>
            </div>
            <PlateGrid wide />
          </DialogPanel>
        </div>
      </Dialog>
    </>
  );
}
