export { containsRect, expandRect, intersectRects, type Rect } from './rect';
