export { type PdfFacts, pdfPageAsSvg, pdfPagePicture, readPdfFacts } from './pdfPages';
