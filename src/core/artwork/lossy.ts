/** From this purity on (CIELAB distance within which a pixel is a colour) compression has damaged the artwork. */
const LOSSY_PURITY = 5;

/** Whether compression has damaged artwork, by the purity that its colours were found with. */
export function isLossy(purity: number): boolean {
  return purity >= LOSSY_PURITY;
}
