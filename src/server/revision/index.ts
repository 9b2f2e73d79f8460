export { cleanFile, cleaningColours } from './cleanFile';
export { type Revised, type RevisionInput, reviseJob } from './revise';
