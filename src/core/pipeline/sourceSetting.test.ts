import { testSheet } from '../../../tests/testSheet';
import { changePlate } from '../separation';
import { type JobSheet, flatLayer, withLayer } from '../sheet';
import { labelsKey, sourceSetting } from './sourceSetting';
import { gapsKey } from './gapSurvey';

/** A glow that fades out on a dark garment, beside a solid. */
const sheet = testSheet({
  colours: [
    { rgb: [240, 176, 48], area: 0.5 },
    { rgb: [200, 56, 46], area: 0.3 },
  ],
  transitions: [['#f0b030', '#f0b030']],
});
const glow = sheet.plates.find(({ ink }) => ink.colour === '#f0b030')!;
const screened = (change: Partial<typeof glow.screen>): JobSheet =>
  changePlate(sheet, glow.id, { screen: { ...glow.screen, ...change } });

it('is the same where nothing changed that labels are made from', () => {
  const other = { ...sheet, name: 'Other', film: { ...sheet.film, dpi: 1440 } };
  expect(labelsKey(other)).toBe(labelsKey(sheet));
  expect(labelsKey({ ...sheet, fit: { ...sheet.fit, chokeMm: 0.4 } })).toBe(labelsKey(sheet));
  const renamed = changePlate(sheet, glow.id, { ink: { ...glow.ink, name: 'Lamp' }, mesh: 305 });
  expect(labelsKey(renamed)).toBe(labelsKey(sheet));
});

it('changes with a screen that makes dots of ink lie in those of the base no longer: then fades are others', () => {
  const apart = screened({ angleDeg: glow.screen.angleDeg + 30 });
  expect([...sourceSetting(apart).looked.fades]).not.toEqual([...sourceSetting(sheet).looked.fades]);
  expect(labelsKey(apart)).not.toBe(labelsKey(sheet));
  // Gain is made up for on film: the dots lie where they lay.
  expect(labelsKey(screened({ gain: 0.1 }))).toBe(labelsKey(sheet));
});

it('changes with the ink of a fade, which changes no gap', () => {
  const paler = changePlate(sheet, glow.id, { ink: { ...glow.ink, opacity: 0.4 } });
  expect(labelsKey(paler)).not.toBe(labelsKey(sheet));
  expect(gapsKey(paler)).toBe(gapsKey(sheet));
  const closed = { ...sheet, fit: { ...sheet.fit, closeGapsMm: 0.1 } };
  expect(labelsKey(closed)).not.toBe(labelsKey(sheet));
  expect(gapsKey(closed)).not.toBe(gapsKey(sheet));
});

it('says nothing of ink where no colour passes into another', () => {
  const flat = withLayer(sheet, { ...flatLayer(sheet)!, transitions: [] });
  const paler = changePlate(flat, glow.id, { ink: { ...glow.ink, opacity: 0.4 } });
  expect(labelsKey(paler)).toBe(labelsKey(flat));
});
