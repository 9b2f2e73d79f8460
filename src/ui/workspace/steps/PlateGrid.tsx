'use client';

import { createColumnHelper, rowSelectionFeature, tableFeatures, useTable } from '@tanstack/react-table';
import { useState } from 'react';
import { changePlate, changePlates, changeRole } from '@/core/separation';
import { DOT_SHAPES, type Plate, printsTones, isInk } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { Swatch } from '../../controls/Choice';
import { useDesk, useSheet } from '../desk/desk';

interface Props {
  /** With ink and role as well. */
  readonly wide?: boolean;
}

const features = tableFeatures({ rowSelectionFeature });
const columns = createColumnHelper<typeof features, Plate>().columns([]);

/**
 * Mesh, frequency, angle and shape of all plates; a value set with rows ticked goes to all of them. With the shift key a whole
 * stretch of rows is ticked.
 */
export function PlateGrid({ wide = false }: Props) {
  const sheet = useSheet();
  const stock = useDesk((desk) => desk.stock);
  const selected = useDesk((desk) => desk.selected);
  const onSelect = useDesk((desk) => desk.select);
  const take = useDesk((desk) => desk.change);
  const table = useTable({ features, columns, data: sheet.plates, getRowId: (plate) => plate.id });
  const ids = table.getSelectedRowModel().rows.map((row) => row.id);
  const change = (
    plate: Plate,
    part: (each: Plate) => Partial<Pick<Plate, 'mesh' | 'screen' | 'baseStrength'>>,
  ) => take((now) => changePlates(now, ids.includes(plate.id) ? ids : [plate.id], part));
  const cell = 'px-px py-0.5';
  const input =
    'h-6 w-full appearance-none rounded-[2px] border border-transparent bg-transparent px-1 text-right hover:border-line';
  return (
    <table className="mt-1 w-full border-collapse text-xs">
      <thead className="caption">
        <tr className="h-8 border-b border-line text-left">
          <th className="w-7 font-normal">
            <input
              type="checkbox"
              aria-label="Tick all plates"
              className="m-1 size-4 accent-ink"
              checked={table.getIsAllRowsSelected()}
              onChange={table.getToggleAllRowsSelectedHandler()}
            />
          </th>
          {wide && <th className="w-8 font-normal">film</th>}
          <th className="font-normal">Ink</th>
          {wide && (
            <>
              <th className="w-20 font-normal">colour</th>
              <th className="w-16 pr-1 text-right font-normal">opacity, %</th>
              <th className="w-24 pl-1.5 font-normal">role</th>
              <th className="w-16 pr-1 text-right font-normal">base, %</th>
            </>
          )}
          <th className="w-10 pr-1 text-right font-normal">mesh</th>
          <th className="w-9 pr-1 text-right font-normal">lpi</th>
          <th className="w-11 pr-1 text-right font-normal">angle</th>
          <th className="w-[74px] pl-1.5 font-normal">shape</th>
        </tr>
      </thead>
      <tbody>
        {table.getRowModel().rows.map((row) => {
          const plate = row.original;
          return (
            <tr
              key={plate.id}
              className={`border-b border-slip-deep ${plate.id === selected ? 'bg-white' : ''}`}
            >
              <td className={cell}>
                <input
                  type="checkbox"
                  aria-label={`Tick ${plate.ink.name}`}
                  className="m-1 size-4 accent-ink"
                  checked={row.getIsSelected()}
                  onChange={row.getToggleSelectedHandler()}
                />
              </td>
              {wide && <td className={`${cell} text-quiet`}>{plate.number}</td>}
              <td className={`${cell} max-w-0`}>
                {wide ? (
                  <span className="flex items-center gap-1">
                    <Swatch colour={plate.ink.colour} />
                    <GridText
                      label={`Ink of film ${plate.number}`}
                      value={plate.ink.name}
                      isGood={(text) => text.length > 0 && text.length <= 80}
                      onChange={(name) =>
                        take((now) => changePlate(now, plate.id, { ink: { ...plate.ink, name } }))
                      }
                    />
                  </span>
                ) : (
                  <button
                    type="button"
                    className="flex h-6 w-full items-center gap-1 text-left"
                    onClick={() => onSelect(plate.id)}
                  >
                    <Swatch colour={plate.ink.colour} />
                    <span className="truncate">{plate.ink.name}</span>
                  </button>
                )}
              </td>
              {wide && (
                <>
                  <td className={cell}>
                    <GridText
                      label={`Colour of ${plate.ink.name}`}
                      value={plate.ink.colour}
                      isGood={(text) => /^#[0-9a-f]{6}$/i.test(text)}
                      onChange={(colour) =>
                        take((now) =>
                          changePlate(now, plate.id, {
                            ink: { ...plate.ink, colour: colour.toLowerCase() },
                          }),
                        )
                      }
                    />
                  </td>
                  <td className={cell}>
                    <GridNumber
                      label={`Opacity of ${plate.ink.name}`}
                      value={Math.round(plate.ink.opacity * 100)}
                      min={0}
                      max={100}
                      onChange={(percent) =>
                        take((now) =>
                          changePlate(now, plate.id, { ink: { ...plate.ink, opacity: percent / 100 } }),
                        )
                      }
                    />
                  </td>
                  <td className={cell}>
                    {plate.role === 'underbase' || plate.role === 'special' ? (
                      <span className="px-1">{plate.role}</span>
                    ) : (
                      <select
                        aria-label={`Role of ${plate.ink.name}`}
                        className={input.replace('text-right', 'text-left')}
                        value={plate.role}
                        onChange={(event) =>
                          take((now) =>
                            changeRole(now, plate.id, event.target.value as 'colour' | 'highlight'),
                          )
                        }
                      >
                        <option value="colour">colour</option>
                        <option value="highlight">highlight</option>
                      </select>
                    )}
                  </td>
                  <td className={cell}>
                    {/* The base under tones is solved for with them. */}
                    {isInk(plate) && !printsTones(sheet) && (
                      <GridNumber
                        label={`Base under ${plate.ink.name}`}
                        value={Math.round(plate.baseStrength * 100)}
                        min={0}
                        max={100}
                        onChange={(percent) => change(plate, () => ({ baseStrength: percent / 100 }))}
                      />
                    )}
                  </td>
                </>
              )}
              <td className={cell}>
                <select
                  aria-label={`Mesh of ${plate.ink.name}`}
                  className={input}
                  value={plate.mesh}
                  onChange={(event) => change(plate, () => ({ mesh: Number(event.target.value) }))}
                >
                  {[...new Set([plate.mesh, ...stock.meshes.map((each) => each.count)])]
                    .sort((p, q) => p - q)
                    .map((count) => (
                      <option key={count} value={count}>
                        {count}
                      </option>
                    ))}
                </select>
              </td>
              <td className={cell}>
                <GridNumber
                  label={`Frequency of ${plate.ink.name}`}
                  value={plate.screen.lpi}
                  min={10}
                  max={Math.min(150, Math.floor(sheet.film.dpi / 4))}
                  onChange={(lpi) => change(plate, (each) => ({ screen: { ...each.screen, lpi } }))}
                />
              </td>
              <td className={cell}>
                <GridNumber
                  label={`Angle of ${plate.ink.name}`}
                  value={plate.screen.angleDeg}
                  min={-360}
                  max={360}
                  onChange={(angleDeg) => change(plate, (each) => ({ screen: { ...each.screen, angleDeg } }))}
                />
              </td>
              <td className={cell}>
                <select
                  aria-label={`Shape of ${plate.ink.name}`}
                  className={input.replace('text-right', 'text-left')}
                  value={plate.screen.shape}
                  onChange={(event) =>
                    change(plate, (each) => ({
                      screen: { ...each.screen, shape: event.target.value as Plate['screen']['shape'] },
                    }))
                  }
                >
                  {DOT_SHAPES.map((shape) => (
                    <option key={shape} value={shape}>
                      {shape}
                    </option>
                  ))}
                </select>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

interface TextProps {
  readonly label: string;
  readonly value: string;
  readonly isGood: (text: string) => boolean;
  readonly onChange: (value: string) => void;
}

function GridText({ label, value, isGood, onChange }: TextProps) {
  const [text, setText] = useState<string | null>(null);
  const good = text === null || isGood(text.trim());
  const settle = () => {
    if (text !== null && good && text.trim() !== value) onChange(text.trim());
    setText(null);
  };
  return (
    <input
      aria-label={label}
      aria-invalid={!good}
      className="h-6 w-full min-w-0 rounded-[2px] border border-transparent bg-transparent px-1 hover:border-line aria-invalid:border-clay"
      value={text ?? value}
      onChange={(event) => setText(event.target.value)}
      onBlur={settle}
      onKeyDown={(event) => {
        if (event.key === 'Enter') settle();
        if (event.key === 'Escape') setText(null);
      }}
    />
  );
}

interface NumberProps {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly onChange: (value: number) => void;
}

function GridNumber({ label, value, min, max, onChange }: NumberProps) {
  const [text, setText] = useState<string | null>(null);
  const number = Number(text);
  const good = text !== null && text.trim() !== '' && number >= min && number <= max;
  const settle = () => {
    if (good && number !== value) onChange(number);
    setText(null);
  };
  return (
    <input
      aria-label={label}
      aria-invalid={text !== null && !good}
      title={text !== null && !good ? `From ${min} to ${max}` : undefined}
      className="h-6 w-full rounded-[2px] border border-transparent bg-transparent px-1 text-right hover:border-line aria-invalid:border-clay"
      value={text ?? trimNumber(value, 2)}
      onChange={(event) => setText(event.target.value)}
      onBlur={settle}
      onKeyDown={(event) => {
        if (event.key === 'Enter') settle();
        if (event.key === 'Escape') setText(null);
      }}
    />
  );
}
