import { type Rgb8, parseHexColour } from '../colour';
import {
  GROUND_PURITY,
  type KeptColours,
  type LocalColour,
  type LookedUp,
  fadesOf,
  waysOf,
} from '../separation';
import {
  type JobSheet,
  artworkOf,
  droppedBackground,
  type KeptPrint,
  type Layer,
  fullToneLayer,
  isSupplied,
  printsTones,
  keptOf,
  layerOf,
  paletteOf,
  transitionsOf,
} from '../sheet';
import { type ToneSetting, toneSetting } from './fullTone';
import { type SuppliedSetting, suppliedSetting } from './suppliedPlates';
import { type PrintSource, isDrawnAtPrint } from './printGrid';

/**
 * What of a job sheet the labels and fields of its artwork depend on, beside the grid. They are made from it and nothing else of the sheet, so their key
 * in every cache is this.
 */
export interface SourceSetting {
  /** Without names, and without what is settled below. */
  readonly source: PrintSource;
  /** A background that is left to the garment. */
  readonly dropped: { readonly rgb: Rgb8; readonly colour: string; readonly everywhere: boolean } | null;
  readonly looked: LookedUp;
  /** Whether specks of a drawing count as its edges; jobs of earlier versions keep theirs. */
  readonly dust: boolean;
  /** Colours that count only inside an outline. */
  readonly local: readonly LocalColour[];
  /** Colours that are kept out of the tones; null: none are. */
  readonly kept: (Pick<KeptColours, 'colours'> & { readonly looked: LookedUp }) | null;
  /** Null where no inks are solved for. */
  readonly tones: ToneSetting | null;
  /** Null where plates are not those of the artwork's file. */
  readonly supplied: SuppliedSetting | null;
}

const settings = new WeakMap<JobSheet, SourceSetting>();
const keys = new WeakMap<JobSheet, string>();

/** The setting of a sheet; asked again, it is the same object. */
export function sourceSetting(sheet: JobSheet): SourceSetting {
  const known = settings.get(sheet) ?? readSetting(sheet);
  settings.set(sheet, known);
  return known;
}

/** Equal for two states of a job whose labels and fields are equal. */
export function labelsKey(sheet: JobSheet): string {
  const known = keys.get(sheet) ?? keyOf(sourceSetting(sheet));
  keys.set(sheet, known);
  return known;
}

/** Equal for two settings only where they are equal. */
export function keyOf(setting: Partial<SourceSetting>): string {
  return JSON.stringify(setting, (_, value: unknown) => {
    if (value instanceof Map) return [...(value as Map<unknown, unknown>)];
    return ArrayBuffer.isView(value) ? [...(value as Float64Array)] : value;
  });
}

function readSetting(sheet: JobSheet): SourceSetting {
  const background = droppedBackground(sheet);
  const { id, sha256, kind, widthPx, heightPx } = artworkOf(sheet);
  const layer = layerOf(sheet);
  const plain: Layer =
    layer.kind === 'supplied'
      ? layer
      : { ...layer, background: background && { ...background, open: false } };
  return {
    source: {
      artworks: [{ id, fileName: '', sha256, kind, widthPx, heightPx }],
      layers: [
        plain.kind === 'flat'
          ? { ...plain, colours: [], transitions: [] }
          : plain.kind === 'supplied'
            ? plain
            : { ...plain, solvedFor: '#000000', together: false, pinned: [], banned: [] },
      ],
      print: { ...sheet.print, chosen: false },
      fit: { closeGapsMm: isDrawnAtPrint(sheet) ? sheet.fit.closeGapsMm : 0 },
    },
    dropped: background && {
      rgb: parseHexColour(background.colour),
      colour: background.colour,
      everywhere: background.drop === 'everywhere',
    },
    looked: lookedUp(sheet),
    dust: isDrawnAtPrint(sheet) && transitionsOf(sheet) !== null,
    local: localColours(sheet),
    kept: keptColours(sheet),
    tones: fullToneLayer(sheet) ? toneSetting(sheet) : null,
    supplied: isSupplied(sheet) ? suppliedSetting(sheet) : null,
  };
}

function keptColours(sheet: JobSheet): SourceSetting['kept'] {
  const kept = keptOf(sheet);
  const isTold = ({ as, plateId }: KeptPrint) => as === 'garment' || plateId !== null;
  if (!kept.some(isTold)) return null;
  const { purity } = layerOf(sheet);
  return {
    colours: kept.map(({ colour, within }) => ({ rgb: parseHexColour(colour), within })),
    looked: {
      colours: kept.map((each) => ({
        colour: each.colour,
        purity: isTold(each) ? (each.closeness ?? purity) : null,
      })),
      transitions: [],
      ways: [],
      fades: new Map(),
      edges: true,
    },
  };
}

function lookedUp(sheet: JobSheet): LookedUp {
  const { purity } = layerOf(sheet);
  const colours = printsTones(sheet)
    ? groundOf(sheet)
    : paletteOf(sheet).map(({ colour, closeness, within }) => ({
        colour,
        purity: within ? null : (closeness ?? purity),
      }));
  return {
    colours,
    transitions: transitionsOf(sheet),
    ways: waysOf(sheet),
    fades: fadesOf(sheet),
    edges: !isDrawnAtPrint(sheet),
  };
}

/** By tones no colours are told apart but a ground that is left to the garment. */
function groundOf(sheet: JobSheet): LookedUp['colours'] {
  const ground = droppedBackground(sheet);
  return ground ? [{ colour: ground.colour, purity: GROUND_PURITY }] : [];
}

function localColours(sheet: JobSheet): LocalColour[] {
  const palette = paletteOf(sheet);
  return palette.flatMap(({ colour, within }, label): LocalColour[] => {
    const from = palette.findIndex((each) => each.within === null && each.colour === colour);
    return within && from >= 0 ? [{ label, from, outline: within }] : [];
  });
}
