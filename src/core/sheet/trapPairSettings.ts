import type { JobSheet } from './jobSheet';
import type { TrapPairSetting } from './trapPairSchema';

/** What stays of a pair that is set to nothing of its own. */
const isPlain = ({ grows, mm, clearMm }: TrapPairSetting) =>
  grows === 'model' && mm === null && clearMm === 0;

const isOf = ({ plateIds }: TrapPairSetting, one: string, other: string) =>
  plateIds.includes(one) && plateIds.includes(other);

/** A gap that is kept clear between shapes, unless it says how wide: 0.02 in. Common practice, no source. */
const USUAL_GAP_MM = 0.508;

/** Pairs of plates with bare garment between them, how wide that is, and below which width parts beside it are left clear, in mm. */
export function gapPairs({ fit }: Pick<JobSheet, 'fit'>) {
  return fit.pairs.flatMap(({ plateIds, grows, mm, clearMm }) =>
    grows === 'gap' && mm !== 0 ? [{ plateIds, mm: mm ?? USUAL_GAP_MM, clearMm }] : [],
  );
}

/** What is set by hand for two plates; null: nothing is. */
export function pairSetting(
  { fit }: Pick<JobSheet, 'fit'>,
  one: string,
  other: string,
): TrapPairSetting | null {
  return fit.pairs.find((each) => isOf(each, one, other)) ?? null;
}

/** The sheet with two plates trapped as it is said; what says nothing is left out. */
export function withPairSetting(sheet: JobSheet, setting: TrapPairSetting): JobSheet {
  const others = sheet.fit.pairs.filter((each) => !isOf(each, ...setting.plateIds));
  return { ...sheet, fit: { ...sheet.fit, pairs: isPlain(setting) ? others : [...others, setting] } };
}
