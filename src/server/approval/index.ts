export { approvalPdf } from './approvalPdf';
export { drawGarment, placePrint } from './drawGarment';
