export { makeFilmSet, outerMapFor, type FilmSet, type SpooledFilm } from './makeFilmSet';
export { artworkColours, offersFor } from './proposeInks';
export { wedgePdf } from './wedgePdf';
export { renderPreview, surveyPrint, writePrintPng, type Preview } from './preview';
export { writeFilmFiles, type FilmFile } from './writeFilmFiles';
export { readTones, writeScreenedTiff, type ScreenFileRequest, type ToneFile } from './screenFile';
export { keptTiles } from './tileFiles';
export { judgedDots } from './proposeDots';
