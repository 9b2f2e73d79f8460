export { makeFilmSet, outerMapFor, type FilmSet, type SpooledFilm } from './makeFilmSet';
export { wedgePdf } from './wedgePdf';
export { measureDifference, renderPreview, surveyPrint, writePrintPng, type Preview } from './preview';
export { writeFilmFiles, writeZip, type FilmFile } from './writeFilmFiles';
