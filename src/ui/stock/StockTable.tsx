'use client';

import {
  createColumnHelper,
  createSortedRowModel,
  rowSortingFeature,
  sortFn_alphanumeric,
  sortFn_basic,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { ArrowDown, ArrowUp, Plus, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { KerameusError, formatLength, parseLengthMm, trimNumber } from '@/core/units';
import { ColourField } from '../controls/ColourField';
import { type Unit, useUnit } from '../state/useStored';
import type { CellValue, Column, Shelf } from './shelves';

type Row = Readonly<Record<string, CellValue>>;

interface Props {
  readonly shelf: Shelf;
  readonly rows: readonly Row[];
  readonly onChange: (rows: readonly Row[]) => void;
}

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { alphanumeric: sortFn_alphanumeric, basic: sortFn_basic },
});
const helper = createColumnHelper<typeof features, Row>();

/** One shelf of the stock; every cell is edited in place, every column sorts. */
export function StockTable({ shelf, rows, onChange }: Props) {
  const columns = useMemo(
    () =>
      helper.columns(
        shelf.columns.map((column) =>
          helper.accessor((row) => row[column.key] ?? null, {
            id: column.key,
            sortFn: isNumber(column) ? 'basic' : 'alphanumeric',
          }),
        ),
      ),
    [shelf],
  );
  const table = useTable({ features, columns, data: rows });
  const set = (index: number, key: string, value: CellValue) =>
    onChange(rows.map((row, k) => (k === index ? { ...row, [key]: value } : row)));
  return (
    <div>
      <table className="w-full max-w-3xl border-collapse border border-line bg-white">
        <thead>
          <tr className="border-b border-line text-left">
            {shelf.columns.map((column) => (
              <th
                key={column.key}
                className={`px-3 py-1.5 font-semibold ${isNumber(column) ? 'text-right' : ''}`}
                aria-sort={ARIA_SORT[String(table.getColumn(column.key)!.getIsSorted())]}
              >
                <button
                  type="button"
                  className="inline-flex items-center gap-1"
                  onClick={table.getColumn(column.key)!.getToggleSortingHandler()}
                >
                  {column.name}
                  <SortArrow sorted={table.getColumn(column.key)!.getIsSorted()} />
                </button>
              </th>
            ))}
            <th className="w-10">
              <span className="sr-only">Take out</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {table.getRowModel().rows.map(({ original: row, index }) => (
            <tr key={index} className="border-b border-slip-deep">
              {shelf.columns.map((column) => (
                <td key={column.key} className={`px-2 py-0.5 ${isNumber(column) ? 'text-right' : ''}`}>
                  <Cell
                    column={column}
                    label={`${column.name}, ${shelf.one} ${index + 1}`}
                    value={row[column.key] ?? null}
                    onChange={(value) => set(index, column.key, value)}
                  />
                </td>
              ))}
              <td className="text-center">
                <button
                  type="button"
                  aria-label={`Take ${shelf.one} ${index + 1} out of stock`}
                  className="hit"
                  onClick={() => onChange(rows.filter((_, k) => k !== index))}
                >
                  <Trash2 aria-hidden className="size-4 text-quiet" />
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <button
        type="button"
        className="plain-button mt-3"
        onClick={() => {
          // What is new stands at the end, where it is looked for.
          table.resetSorting(true);
          onChange([...rows, shelf.fresh]);
        }}
      >
        <Plus aria-hidden className="size-4" /> Add a {shelf.one}
      </button>
    </div>
  );
}

const ARIA_SORT: Readonly<Record<string, 'ascending' | 'descending'>> = {
  asc: 'ascending',
  desc: 'descending',
};

function SortArrow({ sorted }: { readonly sorted: false | 'asc' | 'desc' }) {
  if (sorted === 'asc') return <ArrowUp aria-hidden className="size-3.5" />;
  if (sorted === 'desc') return <ArrowDown aria-hidden className="size-3.5" />;
  return null;
}

function isNumber(column: Column): boolean {
  return column.kind === 'number' || column.kind === 'percent' || column.kind === 'length';
}

interface CellProps {
  readonly column: Column;
  readonly label: string;
  readonly value: CellValue;
  readonly onChange: (value: CellValue) => void;
}

function Cell({ column, label, value, onChange }: CellProps) {
  const [unit] = useUnit();
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  if (column.kind === 'colour')
    return <ColourField label={label} value={String(value)} onChange={onChange} />;
  const settle = () => {
    if (text === null) return;
    try {
      const next = read(column, text, unit);
      setProblem(null);
      setText(null);
      if (next !== value) onChange(next);
    } catch (thrown) {
      setProblem(
        thrown instanceof KerameusError ? `${thrown.message} ${thrown.remedy ?? ''}` : String(thrown),
      );
    }
  };
  return (
    <>
      <input
        aria-label={label}
        aria-invalid={problem !== null}
        className={`field border-transparent hover:border-line ${isNumber(column) ? 'w-28 text-right' : 'w-full'}`}
        value={text ?? show(column, value, unit)}
        onChange={(event) => setText(event.target.value)}
        onBlur={settle}
        onKeyDown={(event) => {
          if (event.key === 'Enter') settle();
          if (event.key === 'Escape') {
            setText(null);
            setProblem(null);
          }
        }}
      />
      {problem && (
        <p role="alert" className="text-xs text-clay-deep">
          {problem}
        </p>
      )}
    </>
  );
}

function show(column: Column, value: CellValue, unit: Unit): string {
  if (value === null) return column.none ?? '';
  if (column.kind === 'percent') return `${trimNumber(Number(value) * 100, 0)} %`;
  if (column.kind === 'length') return formatLength(Number(value), unit);
  return column.kind === 'number' ? trimNumber(Number(value), 3) : String(value);
}

function read(column: Column, text: string, unit: Unit): CellValue {
  if (column.none !== undefined && ['', column.none].includes(text.trim())) return null;
  if (column.kind === 'text') {
    if (text.trim() === '' && column.key === 'name') throw outOfRange(column, text, 'Write a name.');
    return text.trim().slice(0, 80);
  }
  if (column.kind === 'length') {
    return parseLengthMm(text, {
      parameter: column.name,
      defaultUnit: unit,
      minMm: column.min ?? 0,
      maxMm: column.max ?? 3000,
    });
  }
  const number = Number(text.replace('%', '').replace(',', '.').trim());
  const { min = 0, max = 1e6 } = column;
  if (!Number.isFinite(number) || number < min || number > max) {
    throw outOfRange(column, text, `Give a number from ${min} to ${max}.`);
  }
  return column.kind === 'percent' ? number / 100 : number;
}

function outOfRange(column: Column, text: string, remedy: string): KerameusError {
  return new KerameusError({
    code: 'stock-value',
    parameter: column.key,
    message: `${column.name} "${text}" cannot be.`,
    remedy,
  });
}
