'use client';

import { useEffect, useRef, useState } from 'react';
import {
  DEFAULT_TEXTURE,
  type JobSheet,
  LIMITS,
  TEXTURES,
  type Texture,
  garmentOf,
  pictureAsTexture,
} from '@/core/sheet';
import { PICTURE_SIDE, SAMPLE_MM, TILE_MM, type TextureSample, sparedPlates } from '@/core/texture';
import { trimNumber } from '@/core/units';
import { Swatch } from '../../controls/Choice';
import { SwitchSetting } from '../../controls/Setting';
import { TextField } from '../../controls/TextField';
import { SheetLength, SheetSlider } from '../desk/SheetFields';
import { type DeskState, useDesk, useSheet } from '../desk/desk';
import { AddTexture } from './AddTexture';

const NAMES: Readonly<Record<Texture['kind'], string>> = {
  picture: 'Picture',
  cracked: 'Cracks',
  washed: 'Washed',
  speckle: 'Specks',
  brushed: 'Dry brush',
  weave: 'Threads',
  scratches: 'Scratches',
  dots: 'Dots',
  edges: 'Edges',
};

/** Turned against itself by this much, a texture's second layer begins. */
const SECOND_DEG = 60;

/** How a folded heading says it. */
export function textureState({ sheet: { texture } }: Pick<DeskState, 'sheet'>): string {
  return texture
    ? `${texture.picture?.fileName ?? NAMES[texture.kind]}, ${trimNumber(texture.strength * 100, 0)} %`
    : 'none';
}

/** The sheet with its texture changed. */
const withTexture = (sheet: JobSheet, change: Partial<Texture>): JobSheet => ({
  ...sheet,
  texture: { ...(sheet.texture ?? DEFAULT_TEXTURE), ...change },
});

/** Holes through the plates, where the print looks worn. */
export function TextureSection() {
  const { texture } = useSheet();
  const change = useDesk((desk) => desk.change);
  return (
    <>
      <Kinds chosen={texture?.kind ?? null} />
      <AddTexture
        onAdded={(added) =>
          change((sheet) => ({ ...sheet, texture: pictureAsTexture(sheet.texture, added) }))
        }
      />
      {texture ? (
        <Settings texture={texture} />
      ) : (
        <p className="caption">
          A texture opens holes through the plates, in all of them at the same places; the base draws back
          from them as from bare garment.
        </p>
      )}
      {texture && (
        <button
          type="button"
          className="plain-button mt-2"
          onClick={() => change((sheet) => ({ ...sheet, texture: null }))}
        >
          No texture
        </button>
      )}
    </>
  );
}

/** All textures as they wear an ink on the garment. */
function Kinds({ chosen }: { readonly chosen: Texture['kind'] | null }) {
  const pool = useDesk((desk) => desk.pool);
  const change = useDesk((desk) => desk.change);
  const sheet = useSheet();
  const [samples, setSamples] = useState<readonly TextureSample[] | null>(null);
  useEffect(() => {
    let isHere = true;
    void pool.textureSamples().then(
      (found) => isHere && setSamples(found),
      () => undefined,
    );
    return () => {
      isHere = false;
    };
  }, [pool]);
  const ink = sheet.plates.find(({ role }) => role === 'colour')?.ink.colour ?? '#888888';
  return (
    <div className="mt-1 grid grid-cols-4 gap-1.5" role="group" aria-label="Textures">
      {TEXTURES.map((kind) => (
        <button
          key={kind}
          type="button"
          aria-pressed={chosen === kind}
          title={`${NAMES[kind]}: ${trimNumber(SAMPLE_MM / 10, 0)} cm of it`}
          className={`border p-0.5 text-left ${chosen === kind ? 'border-ink outline-2 outline-ink' : 'border-line'}`}
          onClick={() => change((now) => withTexture(now, { kind, picture: null }))}
        >
          <Sample
            sample={samples?.find((each) => each.kind === kind) ?? null}
            ink={ink}
            ground={garmentOf(sheet).colour}
          />
          <span className="caption block truncate px-0.5">{NAMES[kind]}</span>
        </button>
      ))}
    </div>
  );
}

/** Each pixel stands for several of the sample. */
const SAMPLE_PX = 128;

function Sample(props: {
  readonly sample: TextureSample | null;
  readonly ink: string;
  readonly ground: string;
}) {
  const { sample, ink, ground } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !sample) return;
    const { side, holes } = sample;
    const cell = side / SAMPLE_PX;
    context.fillStyle = ink;
    context.fillRect(0, 0, SAMPLE_PX, SAMPLE_PX);
    context.fillStyle = ground;
    for (let y = 0; y < SAMPLE_PX; y++) {
      for (let x = 0; x < SAMPLE_PX; x++) {
        let worn = 0;
        for (let j = 0; j < cell; j++) {
          for (let i = 0; i < cell; i++) if (holes[(y * cell + j) * side + x * cell + i] !== 0) worn++;
        }
        if (worn === 0) continue;
        context.globalAlpha = worn / (cell * cell);
        context.fillRect(x, y, 1, 1);
      }
    }
    context.globalAlpha = 1;
  }, [sample, ink, ground]);
  return (
    <canvas
      ref={canvas}
      width={SAMPLE_PX}
      height={SAMPLE_PX}
      aria-hidden
      className="aspect-square w-full bg-line"
    />
  );
}

function Settings({ texture }: { readonly texture: Texture }) {
  const change = useDesk((desk) => desk.change);
  const isEdge = texture.kind === 'edges';
  const degrees = (text: string) =>
    text !== '' && Math.abs(Number(text)) <= 360 ? null : 'from -360 to 360';
  const { picture } = texture;
  return (
    <>
      {picture && (
        <>
          <p className="mt-1 truncate" title={picture.fileName}>
            {picture.fileName}
          </p>
          <p className="caption">
            Sampled to {PICTURE_SIDE} by {PICTURE_SIDE}; at 100 %{' '}
            {trimNumber((PICTURE_SIDE * TILE_MM) / 25.4, 1)} in wide, and mirrored beyond that.
          </p>
          <SwitchSetting
            name="Light parts are worn, not dark ones"
            on={picture.light}
            onChange={(light) => change((now) => withTexture(now, { picture: { ...picture, light } }))}
          />
        </>
      )}
      <SheetSlider
        label={isEdge ? 'Worn at the edge' : 'Worn away'}
        value={texture.strength}
        min={1}
        max={LIMITS.maxWear * 100}
        apply={(now, strength) => withTexture(now, { strength })}
      />
      <SheetSlider
        label="Contrast"
        value={texture.contrast}
        apply={(now, contrast) => withTexture(now, { contrast })}
      />
      <SheetSlider
        label="Scale"
        value={texture.scale}
        min={LIMITS.minTextureScale * 100}
        max={400}
        apply={(now, scale) => withTexture(now, { scale })}
      />
      <TextField
        label="Angle, degrees"
        value={trimNumber(texture.angleDeg, 1)}
        maxLength={6}
        check={degrees}
        onChange={(text) => change((now) => withTexture(now, { angleDeg: Number(text) }))}
      />
      <SwitchSetting
        name="A second layer at another angle"
        on={texture.secondDeg !== null}
        onChange={(on) => change((now) => withTexture(now, { secondDeg: on ? SECOND_DEG : null }))}
      />
      {texture.secondDeg !== null && (
        <TextField
          label="Turned against the first by"
          value={trimNumber(texture.secondDeg, 1)}
          maxLength={6}
          check={degrees}
          onChange={(text) => change((now) => withTexture(now, { secondDeg: Number(text) }))}
        />
      )}
      <Place texture={texture} />
      <WornPlates />
    </>
  );
}

/** Where the texture lies: typed, or dragged on the table. */
function Place({ texture }: { readonly texture: Texture }) {
  const isGripped = useDesk((desk) => desk.grip !== null);
  const setGrip = useDesk((desk) => desk.setGrip);
  const hold = useDesk((desk) => desk.hold);
  const change = useDesk((desk) => desk.change);
  useEffect(() => () => setGrip(null), [setGrip]);
  useEffect(() => {
    if (!isGripped) return;
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Escape') setGrip(null);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [isGripped, setGrip]);
  const moved = (dxMm: number, dyMm: number) => (now: JobSheet) => {
    const from = now.texture ?? texture;
    const within = (mm: number) => Math.max(-LIMITS.maxPrintMm, Math.min(LIMITS.maxPrintMm, mm));
    return withTexture(now, { xMm: within(from.xMm + dxMm), yMm: within(from.yMm + dyMm) });
  };
  const length = { unit: 'mm' as const, minMm: -LIMITS.maxPrintMm, maxMm: LIMITS.maxPrintMm };
  return (
    <>
      <SheetLength
        label="To the right"
        valueMm={texture.xMm}
        {...length}
        apply={(now, xMm) => withTexture(now, { xMm })}
      />
      <SheetLength
        label="Down"
        valueMm={texture.yMm}
        {...length}
        apply={(now, yMm) => withTexture(now, { yMm })}
      />
      <button
        type="button"
        aria-pressed={isGripped}
        className={`plain-button my-1 ${isGripped ? 'bg-ink text-white' : ''}`}
        onClick={() =>
          setGrip(
            isGripped
              ? null
              : {
                  what: 'the texture',
                  move: (dx, dy) => hold(moved(dx, dy)),
                  drop: (dx, dy) => {
                    hold(null);
                    change(moved(dx, dy));
                  },
                },
          )
        }
      >
        {isGripped ? 'Stop moving it' : 'Move it on the table'}
      </button>
      {isGripped && <p role="status">Drag on the table: the texture follows the hand.</p>}
    </>
  );
}

/** Which plates are worn. */
function WornPlates() {
  const sheet = useSheet();
  const change = useDesk((desk) => desk.change);
  const spared = sparedPlates(sheet);
  const setWorn = (id: string, worn: boolean) =>
    change((now) => {
      const others = now.texture!.spared.filter((each) => each !== id);
      return withTexture(now, { spared: worn ? others : [...others, id] });
    });
  return (
    <fieldset className="mt-1">
      <legend className="caption">Through these plates</legend>
      <ul>
        {sheet.plates.map(({ id, ink }) => (
          <li key={id} className="flex items-center gap-2">
            <Swatch colour={ink.colour} />
            <SwitchSetting
              name={ink.name}
              on={!spared.has(id)}
              {...(spared.has(id) && !sheet.texture!.spared.includes(id)
                ? { title: 'Its dots interlock with those of a plate that is left out' }
                : {})}
              onChange={(worn) => setWorn(id, worn)}
            />
          </li>
        ))}
      </ul>
    </fieldset>
  );
}
