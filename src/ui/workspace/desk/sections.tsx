import type { ComponentType } from 'react';
import type { Step } from '@/core/checks';
import { backgroundOf, isSimulated, isSupplied, printsTones } from '@/core/sheet';
import {
  BackgroundSection,
  BackgroundTitle,
  FileSection,
  GarmentSection,
  SizeSection,
} from '../steps/ArtworkSections';
import { AdjustSection, adjustState } from '../steps/AdjustSection';
import { CleanSection, canBeCleaned } from '../steps/CleanSection';
import { AllPlates } from '../steps/AllPlates';
import { ColoursSection, PickColour } from '../steps/ColoursSection';
import { CurveSection } from '../steps/CurveSection';
import { DotsTogether, meetingPlates } from '../steps/DotsTogether';
import { LabelSection, MarksSection, labelState, marksState } from '../steps/FilmMarks';
import { FilesSection, filesState } from '../steps/FilmOutputs';
import {
  DrawingSection,
  FilmSection,
  LinksSection,
  ResultsSection,
  SheetSection,
  filmState,
} from '../steps/FilmSections';
import {
  EdgeSection,
  FitColoursSection,
  RegistrationSection,
  StrengthSection,
  UnderbaseSection,
  hasBase,
  hasStrengths,
} from '../steps/FitSections';
import { EdgesSection } from '../steps/EdgesSection';
import { GainSection, gainState } from '../steps/GainSection';
import { AddInk, InksSection } from '../steps/InksSection';
import { KeptSection, keptState } from '../steps/KeptSection';
import { LimitsSection, limitsState } from '../steps/LimitsSection';
import { MethodSection } from '../steps/MethodSection';
import { MixSection, isMixed } from '../steps/MixSection';
import { MoireSection } from '../steps/MoireSection';
import { PartSection, partState } from '../steps/PartSection';
import { PatchesSection, hasPatches, patchesState } from '../steps/PatchesSection';
import { PlateInkSection, PlateInkTitle } from '../steps/PlateInkSection';
import { PrinterSection, printerState } from '../steps/PrinterSection';
import { ScreensSection } from '../steps/ScreensSection';
import { SpecialSection, hasSpecials, specialsState } from '../steps/SpecialSection';
import { SharesSection, sharesState } from '../steps/SharesSection';
import { AllScreensSection, ScreenSection, ScreenTitle, tonedShare } from '../steps/ScreenSections';
import { SuppliedSection } from '../steps/SuppliedSection';
import { TextureSection, textureState } from '../steps/TextureSection';
import { TrapPairs, hasPairs, pairsState } from '../steps/TrapPairs';
import { type DeskState, plateOf } from './desk';

/** A group of controls in a step. */
export interface StepSection {
  readonly id: string;
  readonly step: Step;
  readonly title?: string;
  /** In the place of a title that is always the same. */
  readonly Title?: ComponentType;
  /** Beside the title. */
  readonly Action?: ComponentType;
  /** Draws its own headings, if any. */
  readonly frameless?: boolean;
  /** Whether the job has a use for it; it always has where this is left out. */
  readonly applies?: (desk: DeskState) => boolean;
  /** For what is set once in a while: it begins folded, and its heading says how it stands. */
  readonly folded?: (desk: DeskState) => string;
  readonly Body: ComponentType;
}

const hasDots = (desk: DeskState) => {
  const plate = plateOf(desk);
  return plate !== null && plate.screen.screening !== 'solid';
};

/** Tones that are found for the job's inks. */
const ofTones = ({ sheet }: DeskState) => isSimulated(sheet);

/** All sections of all steps, from top to bottom. Whoever adds one adds it here. */
export const SECTIONS: readonly StepSection[] = [
  { id: 'file', step: 'artwork', title: 'Artwork', Body: FileSection },
  {
    id: 'clean',
    step: 'artwork',
    title: 'Smooth areas',
    applies: canBeCleaned,
    Body: CleanSection,
  },
  { id: 'size', step: 'artwork', title: 'Print size', Body: SizeSection },
  { id: 'garment', step: 'artwork', title: 'Garment', Body: GarmentSection },
  {
    id: 'background',
    step: 'artwork',
    Title: BackgroundTitle,
    applies: ({ sheet }) => backgroundOf(sheet) !== null,
    Body: BackgroundSection,
  },

  { id: 'part', step: 'artwork', title: 'Part that prints', folded: partState, Body: PartSection },

  { id: 'method', step: 'plates', title: 'Separation', Body: MethodSection },
  {
    id: 'supplied',
    step: 'plates',
    title: 'Plates of the file',
    applies: ({ sheet }) => isSupplied(sheet),
    Body: SuppliedSection,
  },
  { id: 'screens', step: 'plates', title: 'Screens', applies: ofTones, Body: ScreensSection },
  { id: 'inks', step: 'plates', title: 'Inks', Action: AddInk, applies: ofTones, Body: InksSection },
  { id: 'kept', step: 'plates', title: 'Kept solid', applies: ofTones, folded: keptState, Body: KeptSection },
  {
    id: 'adjust',
    step: 'plates',
    title: 'Artwork before separation',
    applies: ofTones,
    folded: adjustState,
    Body: AdjustSection,
  },
  {
    id: 'colours',
    step: 'plates',
    title: 'Colours',
    Action: PickColour,
    applies: ({ sheet }) => !printsTones(sheet),
    Body: ColoursSection,
  },
  {
    id: 'patches',
    step: 'plates',
    title: 'Patches',
    applies: hasPatches,
    folded: patchesState,
    Body: PatchesSection,
  },
  {
    id: 'shares',
    step: 'plates',
    title: 'Shares of other plates',
    applies: (desk) => ofTones(desk) && hasPatches(desk),
    folded: sharesState,
    Body: SharesSection,
  },
  { id: 'ink', step: 'plates', Title: PlateInkTitle, Body: PlateInkSection },
  {
    id: 'mix',
    step: 'plates',
    title: 'Mix from stock',
    applies: isMixed,
    folded: () => 'parts and grams',
    Body: MixSection,
  },
  {
    id: 'special',
    step: 'plates',
    title: 'Special plates',
    applies: hasSpecials,
    folded: specialsState,
    Body: SpecialSection,
  },
  { id: 'all-plates', step: 'plates', frameless: true, Body: AllPlates },

  { id: 'edge', step: 'fit', frameless: true, Body: EdgeSection },
  { id: 'registration', step: 'fit', title: 'Registration', Body: RegistrationSection },
  { id: 'underbase', step: 'fit', title: 'Underbase', applies: hasBase, Body: UnderbaseSection },
  {
    id: 'strength',
    step: 'fit',
    title: 'Strength under each ink',
    applies: hasStrengths,
    Body: StrengthSection,
  },
  { id: 'fit-colours', step: 'fit', title: 'Colours', Body: FitColoursSection },
  {
    id: 'pairs',
    step: 'fit',
    title: 'Colours that touch',
    applies: hasPairs,
    folded: pairsState,
    Body: TrapPairs,
  },
  {
    id: 'edges',
    step: 'fit',
    title: 'Screens that lie off',
    applies: ({ sheet }) => sheet.plates.length > 1,
    Body: EdgesSection,
  },
  { id: 'texture', step: 'fit', title: 'Worn texture', folded: textureState, Body: TextureSection },

  { id: 'screen', step: 'dots', Title: ScreenTitle, Body: ScreenSection },
  { id: 'curve', step: 'dots', title: 'Tone curve', applies: hasDots, Body: CurveSection },
  {
    id: 'together',
    step: 'dots',
    title: 'Dots that meet',
    applies: (desk) => meetingPlates(desk).length > 1,
    Body: DotsTogether,
  },
  {
    id: 'patterns',
    step: 'dots',
    title: 'Patterns',
    applies: (desk) => plateOf(desk)?.screen.screening === 'grid' && tonedShare(desk) > 0,
    Body: MoireSection,
  },
  {
    id: 'gain',
    step: 'dots',
    title: 'From film to print',
    applies: hasDots,
    folded: (desk) => gainState(plateOf(desk)!),
    Body: GainSection,
  },
  {
    id: 'all-screens',
    step: 'dots',
    title: 'All plates',
    applies: ({ sheet }) => sheet.plates.length > 0,
    Body: AllScreensSection,
  },

  { id: 'drawing', step: 'film', frameless: true, Body: DrawingSection },
  { id: 'results', step: 'film', frameless: true, Body: ResultsSection },
  { id: 'sheet', step: 'film', title: 'Sheet', Body: SheetSection },
  {
    id: 'limits',
    step: 'film',
    title: 'What is found',
    folded: limitsState,
    Body: LimitsSection,
  },
  {
    id: 'files',
    step: 'film',
    title: 'Files',
    folded: ({ sheet }) => filesState(sheet),
    Body: FilesSection,
  },
  {
    id: 'printer',
    step: 'film',
    title: 'Film printer',
    folded: ({ sheet }) => printerState(sheet),
    Body: PrinterSection,
  },
  {
    id: 'film',
    step: 'film',
    title: 'Film',
    folded: ({ sheet }) => filmState(sheet.film),
    Body: FilmSection,
  },
  {
    id: 'marks',
    step: 'film',
    title: 'Marks',
    folded: ({ sheet }) => marksState(sheet),
    Body: MarksSection,
  },
  {
    id: 'label',
    step: 'film',
    title: 'Label',
    folded: ({ sheet }) => labelState(sheet),
    Body: LabelSection,
  },
  { id: 'links', step: 'film', frameless: true, Body: LinksSection },
];
