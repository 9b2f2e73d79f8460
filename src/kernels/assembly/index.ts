// The hot loops, for AssemblyScript. Each has a plain twin in src/core that defines what it computes; the tests
// hold both to the same bytes. All arguments are byte offsets into the memory handed in by the host, which
// checks sizes; nothing is allocated here.
export { boundaryLines, countNearLines, markCounted } from './markNearBoundary';
export { paintGradient } from './paintGradient';
export { nearestPairs } from './nearestPairs';
export { nearestSet } from './nearestSet';
export { stampDiscs } from './stampDiscs';
export { addPart, addRow, encodeRow, groundRow, printBase, printBeside, printLayer } from './printView';
export { blendEach, blendWords, spreadBytes, spreadWords } from './expandRows';
export { beginPlate, codeRows, codeThresholds, lastList, toneRow } from './plateRows';
export { screenStack, screenStrip, screenTones, stackTones } from './screenStrip';
export { beginEncoding, endEncoding, g4EncodeRows, g4Finish } from './g4';
export { layBare, layBase, layTone } from './layTones';
export { toneFields } from './toneFields';
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
