import { type DrawingKernels, type GradientTable, STOP_NUMBERS, paintGradient } from '../drawing';
import type { KernelMemory } from './kernelMemory';

/** Below this many pixels the way into the compiled module and back costs more than it saves. */
const SHORT_RUN = 24;

/** Loops of the drawing on a compiled module. */
export function wasmDrawing(memory: KernelMemory): DrawingKernels {
  const { kernels } = memory;
  return {
    paintGradient: (words, from, to, x, y, colour, opacity) => {
      const count = to - from;
      if (count < SHORT_RUN) return paintGradient(words, from, to, x, y, colour, opacity);
      const { form, stops }: GradientTable = colour.table;
      const [formAt, stopsAt, wordsAt] = memory.place(form.byteLength, stops.byteLength, count * 4) as [
        number,
        number,
        number,
      ];
      new Float64Array(memory.buffer, formAt, form.length).set(form);
      new Float64Array(memory.buffer, stopsAt, stops.length).set(stops);
      const run = new Uint32Array(memory.buffer, wordsAt, count);
      run.set(words.subarray(from, to));
      kernels.paintGradient(wordsAt, count, x, y, formAt, stopsAt, stops.length / STOP_NUMBERS, opacity);
      words.set(run, from);
    },
  };
}
