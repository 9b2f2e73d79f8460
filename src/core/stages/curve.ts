import { z } from 'zod';
import { monotoneCurve } from '../tone';
import type { ToneStage } from './toneStage';

const share = z.number().min(0).max(1);

/** The most points that a curve has. */
export const MOST_CURVE_POINTS = 20;

/**
 * A tone curve: pairs of coverage that comes in and coverage that is to print, 0..1. Before the first point and behind the last the curve is level.
 */
export const curveSchema = z.strictObject({
  kind: z.literal('curve'),
  points: z
    .array(z.tuple([share, share]))
    .min(2, 'must have two points at least')
    .max(MOST_CURVE_POINTS)
    .refine((points) => points.every(([x], k) => k === 0 || x > points[k - 1]![0]), {
      message: 'must go from light to dark, each tone once',
    })
    .refine((points) => points.every(([, y], k) => k === 0 || y >= points[k - 1]![1]), {
      message: 'must not fall: more tone would print lighter',
    }),
});

export type CurveSetting = z.infer<typeof curveSchema>;

/** Smooth between its points and without overshooting, see `monotoneCurve`. */
export const CURVE: ToneStage<CurveSetting> = {
  toneOf: ({ points }) => monotoneCurve(points),
};
