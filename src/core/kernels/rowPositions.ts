import { type ThresholdTile, tilePosition } from '../screening';

/** Where rows that follow each other begin in a tile: in a tile of one row it follows from where the last one did. */
export class RowPositions {
  private readonly tile: ThresholdTile;
  private readonly x: number;
  private begin: number;

  /** @param x where the rows begin, @param firstRow the first of them. */
  constructor(tile: ThresholdTile, x: number, firstRow: number) {
    this.tile = tile;
    this.x = x;
    this.begin = tilePosition(tile, x, firstRow) - (tile.rows > 1 ? 0 : tile.shift);
  }

  next(y: number): number {
    const { tile } = this;
    if (tile.rows > 1) return tilePosition(tile, this.x, y);
    this.begin += tile.shift;
    if (this.begin >= tile.length) this.begin -= tile.length;
    return this.begin;
  }
}
