export { type DrawnPage, type PdfFacts, pdfPageAsSvg, pdfPagePicture, readPdfFacts } from './pdfPages';
export { type DrawnPlate, drawPlates } from './pdfPlates';
