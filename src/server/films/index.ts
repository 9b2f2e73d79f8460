export { makeFilmSet, outerMapFor, type FilmSet, type SpooledFilm } from './makeFilmSet';
export { measureDifference, renderPreview, type Preview } from './preview';
export { writeFilmFiles, writeZip, type FilmFile } from './writeFilmFiles';
