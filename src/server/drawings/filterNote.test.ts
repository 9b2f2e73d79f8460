import { filterNote, leastBlur, withoutSource } from './filterNote';

const BLUR =
  '<feGaussianBlur color-interpolation-filters="linearRGB" in="SourceAlpha" stdDeviation="4 3" result="a"/>';
const MOVED = '<feOffset color-interpolation-filters="linearRGB" in="a" dx="8" dy="8" result="b"/>';
const MERGE =
  '<feMerge color-interpolation-filters="linearRGB" result="c"><feMergeNode in="b"/><feMergeNode in="SourceGraphic"/></feMerge>';
const filter = (inside: string) =>
  `<filter id="f" x="-0.3" y="-0.3" width="1.6" height="1.6">${inside}</filter>`;
const noteOf = (inside: string, last: string) =>
  filterNote({}, [{ name: last, attributes: {} }], filter(inside));

describe('a shadow whose group is merged on top', () => {
  test('is rendered without the group, which stays outlines', () => {
    const under = withoutSource(noteOf(BLUR + MOVED + MERGE, 'feMerge'))!;
    expect(under).toContain('<feMergeNode in="b"/>');
    expect(under).not.toContain('SourceGraphic');
    expect(under.match(/<feMerge /g)).toHaveLength(1);
  });

  test('stays a picture where something else lies on top', () => {
    const other = MERGE.replace('in="SourceGraphic"', 'in="a"');
    expect(withoutSource(noteOf(BLUR + MOVED + other, 'feMerge'))).toBeNull();
  });
});

describe('the least blur', () => {
  test.each([
    ['a blur, by its smaller side', BLUR, 3],
    [
      'a blur that is moved and coloured',
      BLUR + MOVED + '<feFlood result="c"/><feComposite in="c" in2="b" operator="in"/>',
      3,
    ],
    ['the smaller of two', BLUR + MOVED + BLUR.replace('4 3', '1.5 9'), 1.5],
    ['none where the group itself is laid on top', BLUR + MOVED + MERGE, null],
    [
      'none where the group cuts it off',
      BLUR + '<feComposite in="a" in2="SourceAlpha" operator="in"/>',
      null,
    ],
    ['none for pieces that make edges', BLUR + '<feMorphology in="a" radius="2"/>', null],
    ['none without a blur', MOVED.replace('in="a"', 'in="SourceGraphic"'), null],
    ['none where one direction is not blurred', BLUR.replace('4 3', '4 0'), null],
  ])('%s', (_what, inside, least) => {
    expect(leastBlur(filter(inside))).toBe(least);
  });
});
