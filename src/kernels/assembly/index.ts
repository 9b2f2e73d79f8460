// The hot loops, for AssemblyScript. Each has a plain twin in src/core that defines what it computes; the tests
// hold both to the same bytes. All arguments are byte offsets into the memory handed in by the host, which
// checks sizes; nothing is allocated here.
export { markNearBoundary } from './markNearBoundary';
export { nearestSet } from './nearestSet';
export { stampDiscs } from './stampDiscs';
export { addRow, encodeRow, groundRow, printBase, printBeside, printLayer } from './printView';
export { blendEach, blendWords, screenByteRow, screenTones, spreadBytes, spreadWords } from './screenPlane';
export { screenStack, screenStrip, stackTones } from './screenStrip';
export { g4EncodeRows, g4Finish } from './g4';
export { layBare, layBase, layTone } from './layTones';
export { tonePlanes, weighRow } from './tonePlanes';
export {
  beginTone,
  countMixed,
  growTone,
  mixPixels,
  namePixels,
  uniformAcross,
  uniformDown,
} from './namePixels';
