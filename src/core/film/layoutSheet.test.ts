import { testSheet } from '../../../tests/testSheet';
import type { JobSheet } from '../sheet';
import { checkNamePattern, filmBaseNames, filmSize, layoutSheet } from '.';

const sheet = testSheet();
const film = (change: Partial<JobSheet['film']>): JobSheet => ({
  ...sheet,
  film: { ...sheet.film, ...change },
});
const print = (widthMm: number, heightMm: number, change: Partial<JobSheet['film']> = {}): JobSheet => ({
  ...film(change),
  print: { widthMm, heightMm, chosen: false },
});
const mm = (px: number, dpi: number) => (px * 25.4) / dpi;

describe('a print on its sheet', () => {
  it('stands in the middle, on whole device pixels, of a bitmap that ends inside of the sheet', () => {
    const layout = layoutSheet(sheet);
    const { widthMm, heightMm, dpi, printXPx, printYPx } = layout;
    expect([layout.widthPx, layout.heightPx]).toEqual([
      Math.floor((330.2 / 25.4) * 720),
      Math.floor((482.6 / 25.4) * 720),
    ]);
    expect(Math.abs(mm(printXPx, dpi) - (widthMm - 254) / 2)).toBeLessThan(25.4 / dpi);
    expect(Math.abs(mm(printYPx, dpi) - (heightMm - 254) / 2)).toBeLessThan(25.4 / dpi);
    expect([layout.print.width, layout.print.height]).toEqual([254, 254]);
  });

  it('stands where it is put', () => {
    const { printXPx, printYPx } = layoutSheet(film({ printAtMm: { x: 20, y: 60 } }));
    expect([printXPx, printYPx]).toEqual([Math.round((20 / 25.4) * 720), Math.round((60 / 25.4) * 720)]);
  });

  it('is made larger by the stretch, in parts of a thousand', () => {
    const { print: box } = layoutSheet(film({ stretch: { x: 2, y: -5 } }));
    expect(box.width).toBeCloseTo(254 * 1.002, 6);
    expect(box.height).toBeCloseTo(254 * 0.995, 6);
  });

  it('lies turned on its film, a quarter clockwise', () => {
    const turned = film({ turned: true });
    const upright = layoutSheet(turned);
    expect(filmSize(upright)).toMatchObject({ widthMm: 330.2, heightMm: 482.6 });
    expect([upright.widthMm, upright.heightMm]).toEqual([482.6, 330.2]);
  });

  it('takes no more of a roll than it needs', () => {
    const short = layoutSheet(print(200, 100, { sheetWidthMm: 330.2, sheetHeightMm: null }));
    const long = layoutSheet(print(200, 400, { sheetWidthMm: 330.2, sheetHeightMm: null }));
    expect(long.heightMm - short.heightMm).toBeCloseTo(300, 0);
    expect(short.heightMm).toBeLessThan(200);
  });

  it('that reaches beyond it is refused with by how much, and what would do', () => {
    expect(() => layoutSheet(print(400, 300))).toThrow(/13 in|330/);
    expect(() => layoutSheet(film({ printAtMm: { x: 100, y: 10 } }))).toThrow();
  });
});

describe('registration marks', () => {
  it('stand at the middles of the sides an inch from the edges, where that is clear of the print', () => {
    const { marks, widthMm, heightMm } = layoutSheet(print(200, 200));
    const places = marks.map(({ xMm: x, yMm: y }) => [Math.round(x * 10) / 10, Math.round(y * 10) / 10]);
    expect(places).toContainEqual([Math.round((widthMm / 2) * 10) / 10, 25.4]);
    expect(places).toContainEqual([
      Math.round((widthMm / 2) * 10) / 10,
      Math.round((heightMm - 25.4) * 10) / 10,
    ]);
  });

  it('are never nearer to the print than a quarter of an inch, whatever its size', () => {
    for (const width of [60, 150, 220, 254, 280]) {
      const layout = layoutSheet(print(width, width * 0.8));
      const { x, y, width: w, height: h } = layout.print;
      for (const mark of layout.marks) {
        const dx = Math.max(x - mark.xMm, mark.xMm - x - w, 0);
        const dy = Math.max(y - mark.yMm, mark.yMm - y - h, 0);
        expect(Math.max(dx, dy)).toBeGreaterThanOrEqual(6.35);
      }
    }
  });

  it('are none where they are not wanted', () => {
    expect(layoutSheet(film({ marks: { ...sheet.film.marks, register: false } })).marks).toEqual([]);
  });
});

describe('names of files', () => {
  const names = (pattern: string, plates = sheet.plates) => filmBaseNames(film({ names: pattern }), plates);

  it('follow the pattern', () => {
    expect(names('{n}-{ink}')).toEqual(['01-base-white', '02-yellow', '03-red']);
    expect(names('{job}_{lpi}_{angle}_{mesh}_{n}')[1]).toBe('sign_45_22.5_180_02');
    expect(names('{date}-{role}-{n}')[0]).toBe('2026-03-14-underbase-01');
  });

  it('are each there once, also where the pattern does not tell plates apart, and stand in no way of other files', () => {
    expect(new Set(names('film')).size).toBe(3);
    expect(names('films')[0]).not.toBe('films');
    expect(names('REPORT')[0]).not.toBe('REPORT');
  });

  it('are safe on every system', () => {
    const odd = sheet.plates.map((plate) => ({ ...plate, ink: { ...plate.ink, name: '../Grün: 50%?' } }));
    for (const name of names('{ink}/{n}', odd)) expect(name).toMatch(/^[a-zA-Z0-9][a-zA-Z0-9._-]*$/);
    expect(names('...')[0]).toBe('film');
  });

  it('of a field that nobody knows are refused with those that are known', () => {
    expect(() => checkNamePattern('{n}-{colour}')).toThrow(/\{colour\}/);
  });
});
