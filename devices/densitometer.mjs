// A simulated densitometer: reads a step wedge that a press with a given gain has printed, and writes film % and print % of each step.
// node devices/densitometer.mjs [--gain 24] [--noise 0.4] > readings.txt
import { parseArgs } from 'node:util';

const { values } = parseArgs({
  options: { gain: { type: 'string', default: '24' }, noise: { type: 'string', default: '0.4' } },
});
const gain = Number(values.gain) / 100;
const noise = Number(values.noise);
if (!(gain >= 0 && gain <= 0.5 && noise >= 0 && noise <= 5)) {
  console.error('Give --gain from 0 to 50 and --noise from 0 to 5.');
  process.exit(2);
}

const STEPS = [
  0, 1, 2, 3, 4, 5, 7, 10, 15, 20, 25, 30, 40, 50, 60, 70, 75, 80, 85, 90, 93, 95, 97, 98, 99, 100,
];

// Always the same noise, so that a demonstration can be repeated.
let state = 7;
function random() {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
  return state / 2 ** 32 - 0.5;
}

console.log('# film %  print %');
for (const film of STEPS) {
  const a = film / 100;
  // Ink spreads from the edges of dots, most where there is most edge; small dots are lost a little.
  const spread = gain * Math.sin(Math.PI * a) ** 0.9;
  const print = film === 0 || film === 100 ? film : 100 * Math.min(1, a + spread) + noise * 2 * random();
  console.log(`${film} ${Math.min(100, Math.max(0, print)).toFixed(1)}`);
}
