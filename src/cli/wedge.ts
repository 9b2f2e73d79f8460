import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import {
  DEFAULT_FILM,
  DEFAULT_FIT,
  DEFAULT_PRESS,
  DEFAULT_SCREEN,
  FIRST_ARTWORK,
  FIRST_LAYER,
  MESH,
  SHEET_VERSION,
  garmentId,
  parseJobSheet,
  proposeRun,
} from '@/core/sheet';
import { wedgePdf } from '@/server/films';
import { type Options, required } from './arguments';
import { withOptions } from './options';

/** `wedge`: a film of steps through the screen that the options tell. Returns the file's path. */
export async function wedge(options: Options): Promise<string> {
  const out = required(options, 'out');
  const plates = [
    {
      number: 1,
      id: 'wedge',
      role: 'colour' as const,
      ink: { name: options.name ?? 'Ink', colour: '#111111', opacity: 0.9 },
      baseStrength: 0,
      mesh: MESH.halftoneColour,
      withMarks: true,
      sources: [],
      stages: [],
      screen: DEFAULT_SCREEN,
    },
  ];
  const sheet = await withOptions(
    options,
    parseJobSheet({
      format: 'kerameus-job',
      version: SHEET_VERSION,
      name: 'Step wedge',
      artworks: [
        {
          id: FIRST_ARTWORK,
          sha256: '0'.repeat(64),
          fileName: 'wedge',
          kind: 'vector',
          widthPx: 1,
          heightPx: 1,
        },
      ],
      print: { widthMm: 100, heightMm: 100, chosen: false },
      garments: [{ id: garmentId(1), name: 'White', colour: '#ffffff', without: [] }],
      layers: [
        {
          id: FIRST_LAYER,
          artworkId: FIRST_ARTWORK,
          mask: null,
          kind: 'flat',
          background: null,
          purity: 2,
          colours: [],
          transitions: [],
        },
      ],
      plates,
      run: proposeRun(plates),
      press: DEFAULT_PRESS,
      fit: DEFAULT_FIT,
      film: { ...DEFAULT_FILM, date: options.date ?? new Date().toISOString().slice(0, 10) },
    }),
  );
  await mkdir(out, { recursive: true });
  const target = path.join(out, 'wedge.pdf');
  await writeFile(target, wedgePdf(sheet, sheet.plates[0]!));
  return target;
}
