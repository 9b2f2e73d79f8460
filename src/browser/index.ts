export type { Drawing, InkPart, PlaceRequest, ReadRequest, Subject, Surround } from './requests';
export { TablePool, type DrawOrder } from './tablePool';
export { GARMENT_MARGIN_MM, SURROUNDS } from './windowPixels';
