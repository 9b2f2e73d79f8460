import type { Box } from './affine';
import type { Affine } from './affine';

/** What a drawing is drawn from: everything that its file says, resolved to outlines, paints, clips, masks and pictures. */
export interface Drawing {
  /** Size in the drawing's own units; its origin is the top left corner. */
  readonly width: number;
  readonly height: number;
  readonly paths: PathStore;
  readonly gradients: readonly Gradient[];
  readonly patterns: readonly Pattern[];
  readonly clips: readonly Clip[];
  readonly masks: readonly Mask[];
  readonly pictures: readonly DrawingPicture[];
  readonly root: NodeList;
  /** Plates that its file names, each drawn in gray: black, opaque, where it prints solid. */
  readonly plates?: readonly DrawingPlate[];
}

/** A plate of a drawing. Its drawing has the size of the one that it belongs to, and no plates. */
export interface DrawingPlate {
  readonly name: string;
  readonly drawing: Drawing;
}

/** All outlines one after another; a shape names where its own begins. */
export interface PathStore {
  /** One of `VERB` for each piece. */
  readonly verbs: Uint8Array;
  /** The points of the pieces, x before y: one for a move or a line, two for a quadratic, three for a cubic curve. */
  readonly coords: Float32Array;
}

export const VERB = { move: 0, line: 1, quad: 2, cubic: 3, close: 4 } as const;

/** Children in painting order, the first at the back. */
export interface NodeList {
  readonly nodes: readonly DrawingNode[];
  /** Four numbers for each node: what it can touch at most, x0, y0, x1, y1 in the coordinates of the list. */
  readonly hulls: Float32Array;
  /** Whether anything in it, at any depth that is not isolated, blends with what lies behind it. */
  readonly blends: boolean;
}

export type DrawingNode = ShapeNode | PictureNode | GroupNode;

export interface ShapeNode {
  readonly kind: 'shape';
  readonly transform: Affine | null;
  readonly verbFrom: number;
  readonly verbTo: number;
  readonly coordFrom: number;
  /** Bounds of the outline, which paints measured by the shape refer to; in the shape's own coordinates. */
  readonly box: Box;
  readonly fill: Fill | null;
  readonly stroke: Stroke | null;
  readonly strokeFirst: boolean;
}

export interface PictureNode {
  readonly kind: 'picture';
  readonly picture: number;
  /** From the picture's pixels to the coordinates of the list. */
  readonly transform: Affine;
  /** What is shown of it, in the coordinates of the list; null for all. */
  readonly shown: Box | null;
  /** Whether its pixels are interpolated; otherwise each stays a rectangle. */
  readonly smooth: boolean;
}

export interface GroupNode {
  readonly kind: 'group';
  readonly transform: Affine | null;
  /** 0..1 */
  readonly opacity: number;
  readonly blend: BlendMode;
  readonly isolated: boolean;
  /** Index of its clip and of its mask, or -1. */
  readonly clip: number;
  readonly mask: number;
  /** Bounds that a clip or a mask measured by the group refers to, in the group's coordinates. */
  readonly box: Box;
  readonly children: NodeList;
}

export type Paint =
  | { readonly kind: 'colour'; readonly rgb: number }
  | { readonly kind: 'gradient'; readonly index: number }
  | { readonly kind: 'pattern'; readonly index: number };

export interface Fill {
  readonly paint: Paint;
  /** 0..1 */
  readonly opacity: number;
  readonly evenOdd: boolean;
}

export const CAPS = ['butt', 'round', 'square'] as const;
export const JOINS = ['miter', 'round', 'bevel'] as const;

export interface Stroke {
  readonly paint: Paint;
  readonly opacity: number;
  readonly width: number;
  readonly cap: (typeof CAPS)[number];
  readonly join: (typeof JOINS)[number];
  readonly miterLimit: number;
  /** Lengths of dash, gap, dash and so on; empty for a line without gaps. */
  readonly dashes: readonly number[];
  readonly dashOffset: number;
}

export const SPREADS = ['pad', 'reflect', 'repeat'] as const;

export interface GradientStop {
  /** 0..1, never below the one before it. */
  readonly offset: number;
  readonly rgb: number;
  readonly opacity: number;
}

export interface Gradient {
  /** A linear one runs from x1, y1 to x2, y2; a radial one from the focus x1, y1 with radius r1 to the circle x2, y2, r2. */
  readonly kind: 'linear' | 'radial';
  readonly x1: number;
  readonly y1: number;
  readonly r1: number;
  readonly x2: number;
  readonly y2: number;
  readonly r2: number;
  /** Whether its numbers are shares of the shape's bounds. */
  readonly byBox: boolean;
  readonly transform: Affine | null;
  readonly spread: (typeof SPREADS)[number];
  readonly stops: readonly GradientStop[];
}

export interface Pattern {
  readonly cell: Box;
  readonly byBox: boolean;
  readonly contentByBox: boolean;
  readonly transform: Affine | null;
  /** From the content to the cell, where the content has a view box of its own; it takes the place of `contentByBox`. */
  readonly viewBox: PatternView | null;
  readonly children: NodeList;
}

export interface PatternView {
  readonly box: Box;
  /** As `preserveAspectRatio` says it: none, or x and y alignment (0, 0.5, 1) and whether the larger scale is taken. */
  readonly stretch: boolean;
  readonly alignX: number;
  readonly alignY: number;
  readonly slice: boolean;
}

export interface Clip {
  readonly byBox: boolean;
  readonly transform: Affine | null;
  /** A clip on this clip, or -1. */
  readonly clip: number;
  /** Only outlines count of these, and the clips of groups. */
  readonly children: NodeList;
}

export interface Mask {
  /** Beyond it nothing shows. */
  readonly area: Box;
  readonly byBox: boolean;
  readonly contentByBox: boolean;
  /** Whether opacity alone counts, and not lightness. */
  readonly alphaOnly: boolean;
  /** A mask on this mask, or -1. */
  readonly mask: number;
  readonly children: NodeList;
}

/** sRGB codes with straight alpha, four bytes a pixel. */
export interface DrawingPicture {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** In the order of their numbers in the stored form. */
export const BLEND_MODES = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
] as const;
export type BlendMode = (typeof BLEND_MODES)[number];
