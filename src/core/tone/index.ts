export { compensateGain, dotGain, filmToneTable, smallestDot, type FilmToneRule } from './gain';
