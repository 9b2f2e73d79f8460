import v8 from 'node:v8';
import vm from 'node:vm';

v8.setFlagsFromString('--expose-gc');

/** Has this thread's garbage collected now: what lies outside the collector's heap does not hurry it. */
export const collectGarbage = vm.runInNewContext('gc') as () => void;
