'use client';

import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import Link from 'next/link';
import type { Stock } from '@/core/sheet';
import { Problem } from '../controls/Problem';
import { Mark } from '../Mark';
import { useStock } from '../state/useStock';
import { StockTable } from './StockTable';
import { type CellValue, SHELVES, type Shelf } from './shelves';

/** What the shop has: inks, garments, meshes, presses, film printers and sheets. */
export function StockScreen() {
  const { stock, loaded, error, notice, change } = useStock();
  return (
    <div className="flex min-h-full flex-col">
      <TabGroup as="div">
        <header className="flex h-[46px] items-center gap-3 border-b border-line px-4">
          <Mark />
          <h1 className="text-base font-semibold">Stock</h1>
          <span className="caption">jobs keep their own copy of what they took</span>
          <TabList className="ml-4 flex h-full" aria-label="Shelves">
            {SHELVES.map((shelf) => (
              <Tab
                key={shelf.key}
                className="h-[46px] border-b-[3px] border-transparent px-3 data-hover:bg-slip-deep data-selected:border-clay data-selected:font-semibold"
              >
                {shelf.name}{' '}
                <span className="caption">{(stock[shelf.key] as readonly unknown[]).length}</span>
              </Tab>
            ))}
          </TabList>
          <div className="flex-1" />
          <Link href="/" className="plain-button">
            Jobs
          </Link>
        </header>
        <main className="space-y-4 p-5">
          {error && <Problem report={error} />}
          {notice && <Problem report={{ code: 'notice', message: notice }} />}
          {!loaded && !error && <p className="caption">Fetching the stock …</p>}
          <TabPanels>
            {SHELVES.map((shelf) => (
              <TabPanel key={shelf.key} tabIndex={-1}>
                <StockTable
                  shelf={shelf as Shelf}
                  rows={stock[shelf.key] as unknown as readonly Record<string, CellValue>[]}
                  onChange={(rows) => void change({ ...stock, [shelf.key]: rows } as unknown as Stock)}
                />
              </TabPanel>
            ))}
          </TabPanels>
        </main>
      </TabGroup>
    </div>
  );
}
