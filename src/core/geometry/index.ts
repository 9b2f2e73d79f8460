export {
  columnsOf,
  containsRect,
  expandRect,
  intersectRects,
  rectsMeet,
  unionRects,
  type Rect,
} from './rect';
