export { Study, study } from './study';
export type { StudiedJob } from './studyThread';
