'use client';

import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useMemo, useState } from 'react';
import { type EdgeKind, type EdgePlace, type EdgeSurvey, shownLength, survivesMm } from '@/core/checks';
import { type JobSheet, type Plate, garmentOf, isSimulated } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { useDesk, useSheet } from '../desk/desk';
import { ShiftPad } from './ShiftPad';

const mm = (length: number) => `${trimNumber(length, 2)} mm`;

/** An edge that can be looked at. */
interface Edge {
  readonly kind: EdgeKind;
  readonly place: EdgePlace;
}

/** Edges nearer to one that stands before them are left out. */
const APART_MM = 4;
const MOST_EDGES = 60;

/** The tightest edges of the job, those first where most would show. */
function tightestOf(edges: readonly EdgeKind[]): Edge[] {
  const all = edges
    .flatMap((kind) => kind.tightest.map((place): Edge => ({ kind, place })))
    .sort((p, q) => q.place.shownMm2 - p.place.shownMm2 || p.place.marginMm - q.place.marginMm);
  const chosen: Edge[] = [];
  for (const edge of all) {
    if (chosen.length === MOST_EDGES) break;
    const { xMm, yMm } = edge.place;
    const isNear = chosen.some(({ place }) => Math.hypot(place.xMm - xMm, place.yMm - yMm) < APART_MM);
    if (!isNear) chosen.push(edge);
  }
  return chosen;
}

/** What comes of screens that lie off: how far they may, where it shows first, and how it looks. */
export function EdgesSection() {
  const sheet = useSheet();
  const survey = useDesk((desk) => desk.survey);
  return (
    <>
      {survey?.edges && <TightEdges edges={survey.edges} />}
      {!survey && !isSimulated(sheet) && <p className="caption">Edges are being looked at …</p>}
      {isSimulated(sheet) && (
        <p className="caption">
          Of tones no edge is measured: what a plate that lies off does to dots stands in Dots.
        </p>
      )}
      <ShiftPad />
    </>
  );
}

/** How far screens may lie off, and the edges where that is least, one after the other. */
function TightEdges({ edges }: { readonly edges: EdgeSurvey }) {
  const sheet = useSheet();
  const goTo = useDesk((desk) => desk.goTo);
  const tightest = useMemo(() => tightestOf(edges.edges), [edges]);
  const survives = useMemo(() => survivesMm(edges), [edges]);
  const length = useMemo(
    () => shownLength(edges.edges, sheet.press.toleranceMm),
    [edges, sheet.press.toleranceMm],
  );
  const [at, setAt] = useState<number | null>(null);
  const { toleranceMm } = sheet.press;
  const holds = survives + edges.stepMm > toleranceMm;
  const shown = at === null ? null : (tightest[at] ?? null);
  const show = (to: number) => {
    setAt(to);
    const edge = tightest[to];
    if (!edge) return;
    goTo({
      code: 'edge',
      severity: 'notice',
      step: 'fit',
      message: '',
      remedy: '',
      plateId: edge.kind.plateId,
      place: edge.place,
      close: true,
    });
  };
  return (
    <>
      <p data-testid="survives" className={holds ? '' : 'text-clay-deep'}>
        {survives >= edges.reachMm
          ? `Any one screen may lie off by ${mm(edges.reachMm)} and more.`
          : `Any one screen may lie off by ${mm(survives)} before white or garment shows along two millimetres; the press wanders by ${mm(toleranceMm)}${length < 1 ? '' : `, where something shows along about ${trimNumber(length, 0)} mm of edges`}.`}
      </p>
      {tightest.length > 0 && (
        <div className="mt-1 flex items-center gap-2">
          <button
            type="button"
            className="plain-button"
            aria-label="The edge before"
            disabled={at === null || at === 0}
            onClick={() => show((at ?? 0) - 1)}
          >
            <ChevronLeft aria-hidden className="size-4" />
          </button>
          <span className="flex-1 text-center" role="status">
            {at === null ? `${tightest.length} tight edges` : `edge ${at + 1} of ${tightest.length}`}
          </span>
          <button
            type="button"
            className="plain-button"
            aria-label="The next edge"
            disabled={at !== null && at >= tightest.length - 1}
            onClick={() => show(at === null ? 0 : at + 1)}
          >
            <ChevronRight aria-hidden className="size-4" />
          </button>
        </div>
      )}
      {shown && <EdgeDrawing sheet={sheet} edge={shown} stepMm={edges.stepMm} />}
    </>
  );
}

const WIDTH = 280;
const LAYER = 13;
const CLOTH = 20;

/** A section through a real edge: what each plate prints there, from pixel to pixel, in print order from the cloth up. */
function EdgeDrawing(props: { readonly sheet: JobSheet; readonly edge: Edge; readonly stepMm: number }) {
  const { sheet, edge, stepMm } = props;
  const { kind, place } = edge;
  const nameOf = (id: string | null) =>
    sheet.plates.find((plate) => plate.id === id)?.ink.name ?? garmentOf(sheet).name;
  const here = sheet.plates.filter((_, k) => place.profile.some((inks) => (inks & (1 << k)) !== 0));
  const height = here.length * LAYER + CLOTH + 6;
  const px = WIDTH / place.profile.length;
  const runsOf = (plate: Plate) => runs(place.profile, 1 << sheet.plates.indexOf(plate));
  const spanMm = place.profile.length * place.profileStepMm;
  return (
    <figure className="mt-1">
      <svg
        viewBox={`0 0 ${WIDTH} ${height}`}
        className="w-full border border-line bg-white"
        role="img"
        aria-label={`Section of ${mm(spanMm)} through the edge of ${nameOf(kind.plateId)}`}
      >
        <rect x={0} y={height - CLOTH} width={WIDTH} height={CLOTH} fill={garmentOf(sheet).colour} />
        {here.map((plate, row) =>
          runsOf(plate).map(([from, to]) => (
            <rect
              key={`${plate.id}/${from}`}
              x={from * px}
              y={height - CLOTH - (row + 1) * LAYER}
              width={(to - from) * px}
              height={LAYER - 1}
              fill={plate.ink.colour}
              stroke="#9a9a96"
              strokeWidth={0.5}
            />
          )),
        )}
        <line
          x1={WIDTH / 2 + px / 2}
          x2={WIDTH / 2 + px / 2}
          y1={0}
          y2={height}
          stroke="#a8432c"
          strokeDasharray="3 2"
          strokeWidth={0.8}
        />
      </svg>
      <figcaption className="caption">
        {kind.fault === 'white' ? 'White' : garmentOf(sheet).name} shows where {nameOf(kind.plateId)} lies off
        by more than {mm(place.marginMm)}
        {kind.besideId === null ? '' : `, beside ${nameOf(kind.besideId)}`}. {mm(spanMm)} across, a step is{' '}
        {mm(stepMm)}.
      </figcaption>
    </figure>
  );
}

/** Where a bit is set, from (included) to (excluded). */
function runs(profile: readonly number[], bit: number): [number, number][] {
  const found: [number, number][] = [];
  profile.forEach((inks, k) => {
    if ((inks & bit) === 0) return;
    const last = found.at(-1);
    if (last?.[1] === k) last[1] = k + 1;
    else found.push([k, k + 1]);
  });
  return found;
}
