export { type DrawnPage, type PdfFacts, pdfPageAsSvg, pdfPagePicture, readPdfFacts } from './pdfPages';
