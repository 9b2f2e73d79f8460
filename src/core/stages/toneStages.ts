import { z } from 'zod';
import { CURVE, curveSchema } from './curve';
import type { ToneStage } from './toneStage';

/** What a job sheet says of one stage of a plate. */
export const toneStageSchema = z.discriminatedUnion('kind', [curveSchema]);

export type ToneStageSetting = z.infer<typeof toneStageSchema>;

type Kind = ToneStageSetting['kind'];

/** The order in which the stages of a plate follow each other. This is the only place where they are put in order. */
export const TONE_STAGE_ORDER: readonly Kind[] = ['curve'];

const STAGES: { readonly [K in Kind]: ToneStage<Extract<ToneStageSetting, { kind: K }>> } = {
  curve: CURVE,
};

/** What all stages of a plate, one behind the other, make of a tone, 0..1. */
export function throughStages(settings: readonly ToneStageSetting[]): (tone: number) => number {
  const steps = TONE_STAGE_ORDER.flatMap((kind) =>
    settings.filter((setting) => setting.kind === kind).map((setting) => STAGES[kind].toneOf(setting)),
  );
  return (tone) => steps.reduce((before, step) => Math.min(1, Math.max(0, step(before))), tone);
}

/** The stages of a plate with one of a kind set, or without it. */
export function withStage(
  settings: readonly ToneStageSetting[],
  kind: Kind,
  setting: ToneStageSetting | null,
): ToneStageSetting[] {
  const others = settings.filter((each) => each.kind !== kind);
  return setting ? [...others, setting] : others;
}
