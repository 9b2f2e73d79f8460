import type { Finding } from './findings';
import { groupFindings } from './groupFindings';

const finding = (code: string, severity: Finding['severity'], message: string): Finding => ({
  code,
  severity,
  step: 'dots',
  message,
  remedy: '',
});

test('findings of one kind are one, severe kinds first, and none is lost', () => {
  const all = [
    finding('same-angle', 'notice', 'gold and red'),
    finding('plates-beat', 'severe', 'red and blue'),
    finding('same-angle', 'notice', 'gold and blue'),
    finding('same-angle', 'severe', 'red and blue'),
    finding('same-angle', 'notice', 'red and white'),
  ];
  const groups = groupFindings(all);
  expect(groups.map(({ first, others }) => [first.message, others.map(({ message }) => message)])).toEqual([
    ['red and blue', []],
    ['red and blue', []],
    ['gold and red', ['gold and blue', 'red and white']],
  ]);
  expect(groups.flatMap(({ first, others }) => [first, ...others])).toHaveLength(all.length);
  expect(groupFindings([])).toEqual([]);
});
