'use client';

import { type SetPair, setPairs } from '@/core/separation';
import {
  type JobSheet,
  LIMITS,
  type TrapPairSetting,
  garmentOf,
  isSimulated,
  isSupplied,
  pairSetting,
  withPairSetting,
} from '@/core/sheet';
import { formatLength, trimNumber } from '@/core/units';
import { Choice, Swatch } from '../../controls/Choice';
import { LengthField } from '../../controls/LengthField';
import { type DeskState, useDesk, useSheet } from '../desk/desk';

/** CIEDE2000 from which on a trap's colour is told as one that is seen. */
const SEEN = 3;

/** Jobs whose colours can touch. */
export const hasPairs = ({ sheet }: Pick<DeskState, 'sheet'>): boolean =>
  !isSimulated(sheet) && setPairs(sheet).length > 0;

/** How a folded heading says it. */
export function pairsState({ sheet }: Pick<DeskState, 'sheet'>): string {
  const { pairs, trapMm } = sheet.fit;
  if (pairs.length > 0) return `${pairs.length} set by hand`;
  return trapMm > 0 ? `trapped by ${formatLength(trapMm, 'mm')}` : 'they meet';
}

/** Plates whose colours touch somewhere on the print, by their two ids; null while that is not known. */
function useNeighbours(): ReadonlySet<string> | null {
  const edges = useDesk(({ survey }) => survey?.edges ?? null);
  if (!edges) return null;
  return new Set(
    edges.edges.flatMap(({ plateId, besideId }) =>
      besideId === null ? [] : [`${plateId} ${besideId}`, `${besideId} ${plateId}`],
    ),
  );
}

/** The pairs of colours that touch: which grows into which and how far, and each to be set otherwise. */
export function TrapPairs() {
  const sheet = useSheet();
  const neighbours = useNeighbours();
  const all = setPairs(sheet);
  const shown = all.filter(
    ({ source, target, isSet }) => isSet || !neighbours || neighbours.has(`${source} ${target}`),
  );
  if (shown.length === 0) return <p className="caption">No two colours touch.</p>;
  return (
    <ul className="my-1 divide-y divide-slip-deep" data-testid="trap-directions">
      {shown.map((pair) => (
        <Pair key={[pair.source, pair.target].sort().join(' ')} pair={pair} sheet={sheet} />
      ))}
    </ul>
  );
}

/** Whether a width means something else than before. */
const isOther = (chosen: string, grows: TrapPairSetting['grows'] | undefined) =>
  (['gap', 'over'] as const).some((each) => (chosen === each) !== (grows === each));

type Way = 'model' | 'none' | 'gap' | 'over' | `grows ${string}`;

function Pair({ pair, sheet }: { readonly pair: SetPair; readonly sheet: JobSheet }) {
  const change = useDesk((desk) => desk.change);
  const plateOf = (id: string) => sheet.plates.find((plate) => plate.id === id)!;
  const own = pairSetting(sheet, pair.source, pair.target);
  // In print order, whichever of them grows.
  const ids = sheet.plates.flatMap(({ id }) => (id === pair.source || id === pair.target ? [id] : []));
  const [first, later] = [plateOf(ids[0]!), plateOf(ids[1]!)];
  const grower = plateOf(pair.source);
  const other = plateOf(pair.target);
  const [model, modelOther] = pair.modelSource === first.id ? [first, later] : [later, first];
  const way: Way = !own ? 'model' : typeof own.grows === 'object' ? `grows ${own.grows.plateId}` : own.grows;
  const set = (setting: Partial<TrapPairSetting>) =>
    change((now) =>
      withPairSetting(now, {
        plateIds: [first.id, later.id],
        grows: own?.grows ?? 'model',
        mm: own?.mm ?? null,
        clearMm: own?.clearMm ?? 0,
        ...setting,
      }),
    );
  const growsOf = (chosen: string): TrapPairSetting['grows'] =>
    chosen === 'model' || chosen === 'none' || chosen === 'gap' || chosen === 'over'
      ? chosen
      : { plateId: chosen.slice('grows '.length) };
  // What prints first goes on under what prints later.
  const overSeen = pair.source === first.id ? pair.seen : pair.otherwise;
  const overMm = own?.mm ?? sheet.press.toleranceMm;
  const [label, shownMm] =
    own?.grows === 'gap'
      ? ['Width of this gap', pair.gapMm]
      : own?.grows === 'over'
        ? ['It stays inside by', overMm]
        : ['Width of this trap', pair.mm];
  return (
    <li className="py-1.5">
      <div className="flex items-center gap-1.5">
        <Swatch colour={first.ink.colour} />
        <Swatch colour={later.ink.colour} />
        <Choice
          label={`${first.ink.name} and ${later.ink.name}`}
          className="min-w-0 flex-1"
          value={way}
          options={[
            {
              value: 'model',
              label:
                sheet.fit.trapMm > 0
                  ? `${model.ink.name} into ${modelOther.ink.name}, as the model says`
                  : 'they meet: the job has no trap',
            },
            { value: `grows ${first.id}`, label: `${first.ink.name} into ${later.ink.name}` },
            { value: `grows ${later.id}`, label: `${later.ink.name} into ${first.ink.name}` },
            // Without a trap of the job they do so anyway.
            ...(sheet.fit.trapMm > 0 || way === 'none' ? [{ value: 'none', label: 'they meet' }] : []),
            // What a plate of the file knocks out stays knocked out.
            ...(isSupplied(sheet)
              ? []
              : [
                  {
                    value: 'over',
                    label: `${later.ink.name} over ${first.ink.name}, ${trimNumber(overSeen, 1)} from itself`,
                  },
                  { value: 'gap', label: 'garment between them' },
                ]),
          ]}
          onChange={(chosen) =>
            set({
              grows: growsOf(chosen),
              ...(chosen === 'model' || isOther(chosen, own?.grows) ? { mm: null } : {}),
              ...(chosen === 'gap' ? {} : { clearMm: 0 }),
            })
          }
        />
      </div>
      <p className="caption">
        {pair.mm > 0
          ? `${grower.ink.name} runs ${formatLength(pair.mm, 'mm')} into ${other.ink.name}: ${
              pair.seen >= SEEN ? `it shows, ${trimNumber(pair.seen, 0)} apart` : 'it is hardly seen'
            }${pair.otherwise > pair.seen ? '' : `; the other way ${trimNumber(pair.otherwise, 0)}`}`
          : pair.isOver
            ? `${first.ink.name} goes on below all of ${later.ink.name} but its outermost ${formatLength(overMm, 'mm')}, which then prints ${trimNumber(pair.seen, 1)} from ${later.ink.name} alone`
            : pair.gapMm > 0
              ? `${formatLength(pair.gapMm, 'mm')} of ${garmentOf(sheet).name} stay open between them`
              : 'they meet: a screen that lies off opens a gap'}
      </p>
      {own && own.grows !== 'none' && (
        <LengthField
          label={label}
          valueMm={shownMm}
          unit="mm"
          minMm={0}
          maxMm={own.grows === 'gap' ? LIMITS.maxOutlineMm : LIMITS.maxChokeMm}
          onChange={(mm) => set({ mm })}
        />
      )}
      {own?.grows === 'gap' && (
        <LengthField
          label="Left clear below"
          valueMm={own.clearMm}
          unit="mm"
          minMm={0}
          maxMm={LIMITS.maxOutlineMm}
          hint="parts of either colour beside the gap that are narrower, such as counters"
          onChange={(clearMm) => set({ clearMm })}
        />
      )}
    </li>
  );
}
