export { containsRect, expandRect, intersectRects, unionRects, type Rect } from './rect';
