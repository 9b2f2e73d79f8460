export { IppPrinter, type PrintState, type PrintStatus, type PrinterFacts } from './ippClient';
export { describeStatus, printFilm, type FilmToPrint } from './printFilm';
