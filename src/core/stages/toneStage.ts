/**
 * A step between the tone that a plate's colours give it and the tone that it is to print: each place by its tone alone, the same all over the plate.
 * Where a plate may print (its shape), the garment that stays bare and the base under it are settled before; no tone stage changes them.
 */
export interface ToneStage<Setting> {
  /** Coverage intended in print for coverage that came in, both 0..1; never less for more. Nothing stays nothing whatever it says. */
  toneOf(setting: Setting): (tone: number) => number;
}
