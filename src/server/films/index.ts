export { makeFilmSet, outerMapFor, type FilmSet, type SpooledFilm } from './makeFilmSet';
export { measureDifference, renderPreview, surveyPrint, writePrintPng, type Preview } from './preview';
export { writeFilmFiles, writeZip, type FilmFile } from './writeFilmFiles';
