'use client';

import { useState } from 'react';
import { type JobSheet, LIMITS } from '@/core/sheet';
import { gainCurves } from '@/core/tone';
import { trimNumber } from '@/core/units';
import { ChoiceSetting } from '../../controls/Setting';
import { TextField } from '../../controls/TextField';
import { useDesk } from '../desk/desk';
import { useFilmPlate, useSetFilm } from './FilmSections';
import { ReadingsForm } from './ReadingsForm';

const TYPED = 'typed';

/** What makes the films, in a few words. */
export function printerState({ film }: JobSheet): string {
  return `${film.printer ?? 'typed'}, ${film.dpi} dpi${film.printerTones ? ', own curve' : ''}`;
}

/** What makes the films: its resolution, and what it makes of the tones that it is asked for. */
export function PrinterSection() {
  const film = useDesk((desk) => desk.sheet.film);
  const stock = useDesk((desk) => desk.stock);
  const jobId = useDesk((desk) => desk.jobId);
  const saveStock = useDesk((desk) => desk.saveStock);
  const plate = useFilmPlate();
  const setFilm = useSetFilm();
  const [reading, setReading] = useState(false);
  const printer =
    stock.printers.find((each) => each.name === film.printer && each.dpi === film.dpi) ??
    (film.printer === null ? stock.printers.find((each) => each.dpi === film.dpi) : undefined);
  const curve = film.printerTones;
  const take = (tones: [number, number][] | null) => {
    setReading(false);
    setFilm({ printerTones: tones });
    if (!printer) return;
    // The curve is the printer's: the next job with it begins with it.
    saveStock({
      ...stock,
      printers: stock.printers.map((each) => (each.name === printer.name ? { ...each, tones } : each)),
    });
  };
  return (
    <>
      <ChoiceSetting
        name="Printer"
        label="Film printer"
        value={printer?.name ?? TYPED}
        options={[
          ...stock.printers.map((each) => ({ value: each.name, label: `${each.name}, ${each.dpi} dpi` })),
          ...(printer ? [] : [{ value: TYPED, label: 'typed' }]),
        ]}
        onChange={(name) => {
          const chosen = stock.printers.find((each) => each.name === name);
          if (chosen) setFilm({ printer: chosen.name, dpi: chosen.dpi, printerTones: chosen.tones });
        }}
      />
      <TextField
        label="Film resolution, dpi"
        value={String(film.dpi)}
        maxLength={4}
        check={(text) =>
          /^\d+$/.test(text) && Number(text) >= LIMITS.minDpi && Number(text) <= LIMITS.maxDpi
            ? null
            : `A whole number from ${LIMITS.minDpi} to ${LIMITS.maxDpi}.`
        }
        onChange={(text) => setFilm({ printer: null, dpi: Number(text) })}
      />
      <p className="py-1">
        {curve
          ? `Its own curve: ${curve.length} steps, 50 % comes out as ${trimNumber(gainCurves({ gain: 0, measured: curve }).toPrint(0.5) * 100, 1)} %`
          : 'Tones come out as they are asked for'}
      </p>
      {reading ? (
        <ReadingsForm
          label="Asked and measured on film in %, a step on each line"
          known={curve}
          onTake={take}
          onCancel={() => setReading(false)}
        />
      ) : (
        <div className="flex flex-wrap gap-2">
          {plate && (
            <a
              className="plain-button"
              href={`/api/jobs/${jobId}/wedge?plate=${plate.id}&for=printer`}
              download
            >
              Wedge for the printer
            </a>
          )}
          <button type="button" className="plain-button" onClick={() => setReading(true)}>
            Readings of its film …
          </button>
          {curve && (
            <button type="button" className="plain-button" onClick={() => take(null)}>
              Leave its curve out
            </button>
          )}
        </div>
      )}
    </>
  );
}
