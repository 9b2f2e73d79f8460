export { crossingsOf, ellipseBetween, type Outline } from './outline';
export {
  byteColumns,
  containsRect,
  expandRect,
  intersectRects,
  rectsMeet,
  unionRects,
  type Rect,
} from './rect';
