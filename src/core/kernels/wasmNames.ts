import {
  KNOWN_COUNT,
  type MixArguments,
  type NameArguments,
  type RasterKernels,
  cellStride,
  knownPlace,
  type markTone,
  type uniformCells,
} from '../raster';
import type { KernelMemory } from './kernelMemory';

/** Pixels that are looked at at a time: they fit a processor's cache. */
const PIXELS = 1 << 14;
/** Bytes of its own before and behind each row of a plane of tone. */
const SIDE = 16;

/** What artwork pixels are, on a compiled module. */
export function wasmNames(
  memory: KernelMemory,
): Pick<RasterKernels, 'namePixels' | 'markTone' | 'mixPixels' | 'uniformCells'> {
  return {
    namePixels: wasmNamePixels(memory),
    markTone: wasmMarkTone(memory),
    mixPixels: wasmMixPixels(memory),
    uniformCells: wasmUniformCells(memory),
  };
}

function wasmNamePixels(memory: KernelMemory) {
  return ({ pixels, empty, opaque, known, label }: NameArguments): number => {
    const { kernels } = memory;
    const [coloursAt, labelsAt, pixelsAt, outAt] = memory.place(
      KNOWN_COUNT * 4,
      KNOWN_COUNT,
      PIXELS * 4,
      PIXELS,
    ) as [number, number, number, number];
    const views = () =>
      [new Int32Array(memory.buffer, coloursAt, KNOWN_COUNT), memory.bytes(labelsAt, KNOWN_COUNT)] as const;
    let [colours, labels] = views();
    colours.set(known.colours);
    labels.set(known.labels);
    let mixed = 0;
    for (let first = 0; first < pixels.length; first += PIXELS) {
      const count = Math.min(PIXELS, pixels.length - first);
      new Uint32Array(memory.buffer, pixelsAt, PIXELS).set(pixels.subarray(first, first + count));
      for (let i = 0; ;) {
        i = kernels.namePixels(pixelsAt, i, count, empty, opaque, coloursAt, labelsAt, outAt);
        if (i >= count) break;
        const place = learnt(memory, known, pixels[first + i]!);
        if (colours.buffer !== memory.buffer) [colours, labels] = views();
        colours[place] = known.colours[place]!;
        labels[place] = known.labels[place]!;
      }
      const out = memory.bytes(outAt, PIXELS);
      out.fill(0, count, (count + 15) & ~15);
      mixed += kernels.countMixed(outAt, count);
      label.set(out.subarray(0, count), first);
    }
    return mixed;
  };
}

/** Has a colour learnt, which may call kernels. Returns where it stands. */
function learnt(memory: KernelMemory, known: { learn(colour: number): void }, pixel: number): number {
  const colour = pixel & 0xffffff;
  memory.nested(() => known.learn(colour));
  return knownPlace(colour);
}

function wasmMixPixels(memory: KernelMemory) {
  return (args: MixArguments): number => {
    const { known, pixels, label, tone, leaveEdges, mixed, mixAt, mixLabels, mixShares, left } = args;
    const { kernels } = memory;
    const [knownAt, pixelsAt, labelAt, toneAt, mixedAt, mixAtAt, labelsAt, sharesAt, leftAt, countsAt] =
      memory.place(
        KNOWN_COUNT * 10,
        PIXELS * 4,
        PIXELS,
        PIXELS,
        PIXELS * 4,
        PIXELS * 4,
        PIXELS * 3,
        PIXELS * 6,
        PIXELS * 4,
        8,
      ) as [number, number, number, number, number, number, number, number, number, number];
    const words = (at: number, length: number) => new Uint16Array(memory.buffer, at, length);
    const integers = (at: number, length: number) => new Int32Array(memory.buffer, at, length);
    const views = () => ({
      colours: integers(knownAt, KNOWN_COUNT),
      first: memory.bytes(knownAt + KNOWN_COUNT * 4, KNOWN_COUNT),
      second: memory.bytes(knownAt + KNOWN_COUNT * 5, KNOWN_COUNT),
      shares: words(knownAt + KNOWN_COUNT * 6, KNOWN_COUNT),
      rests: words(knownAt + KNOWN_COUNT * 8, KNOWN_COUNT),
    });
    let own = views();
    own.colours.set(known.colours);
    own.first.set(known.first);
    own.second.set(known.second);
    own.shares.set(known.shares);
    own.rests.set(known.rests);
    let done = 0;
    let rest = 0;
    for (let first = 0; first < pixels.length && done < mixed.length; first += PIXELS) {
      const count = Math.min(PIXELS, pixels.length - first);
      new Uint32Array(memory.buffer, pixelsAt, PIXELS).set(pixels.subarray(first, first + count));
      memory.bytes(labelAt, count).set(label.subarray(first, first + count));
      memory.bytes(toneAt, count).set(tone.subarray(first, first + count));
      // What the pixels' mixtures have so far is theirs, too.
      const most = Math.min(count, mixed.length - done);
      memory.bytes(labelsAt, most * 3).set(mixLabels.subarray(done * 3, (done + most) * 3));
      words(sharesAt, most * 3).set(mixShares.subarray(done * 3, (done + most) * 3));
      integers(countsAt, 2).fill(0);
      for (let i = 0; ;) {
        i = kernels.mixPixels(
          pixelsAt,
          labelAt,
          toneAt,
          i,
          count,
          first,
          done,
          args.opaque,
          leaveEdges ? 1 : 0,
          knownAt,
          mixedAt,
          mixAtAt,
          labelsAt,
          sharesAt,
          leftAt,
          countsAt,
        );
        if (i >= count) break;
        const place = learnt(memory, known, pixels[first + i]!);
        // What learns a colour may call kernels, and the memory grow.
        if (own.colours.buffer !== memory.buffer) own = views();
        own.colours[place] = known.colours[place]!;
        own.first[place] = known.first[place]!;
        own.second[place] = known.second[place]!;
        own.shares[place] = known.shares[place]!;
        own.rests[place] = known.rests[place]!;
      }
      const [more, moreLeft] = integers(countsAt, 2) as unknown as [number, number];
      mixed.set(integers(mixedAt, more), done);
      mixAt.set(integers(mixAtAt, count), first);
      mixLabels.set(memory.bytes(labelsAt, more * 3), done * 3);
      mixShares.set(words(sharesAt, more * 3), done * 3);
      left.set(integers(leftAt, moreLeft), rest);
      done += more;
      rest += moreLeft;
    }
    return rest;
  };
}

function wasmMarkTone(memory: KernelMemory): typeof markTone {
  return (label, width, height, radius, growth, tone) => {
    const { kernels } = memory;
    const stride = ((width + 15) & ~15) + 2 * SIDE;
    const bytes = stride * height;
    const places = memory.place(bytes, bytes, bytes, height, height);
    const [planeAt, ...others] = places as [number, number, number, number, number];
    const plane = memory.bytes(planeAt, bytes);
    plane.fill(255);
    for (let y = 0; y < height; y++) {
      plane.set(label.subarray(y * width, (y + 1) * width), y * stride + SIDE);
    }
    let [from, to, anyFrom, anyTo] = others;
    const own = planeAt + SIDE;
    kernels.beginTone(own, stride, width, height, radius, from + SIDE, to + SIDE, anyFrom, anyTo);
    for (let step = 0; step < growth; step++) {
      const grown = kernels.growTone(own, stride, width, height, from + SIDE, anyFrom, to + SIDE, anyTo);
      if (grown === 0) break;
      [from, to, anyFrom, anyTo] = [to, from, anyTo, anyFrom];
    }
    const marked = memory.bytes(from, bytes);
    for (let y = 0; y < height; y++) {
      const start = y * stride + SIDE;
      tone.set(marked.subarray(start, start + width), y * width);
    }
    for (let i = 0; i < tone.length; i++) tone[i]! &= 1;
  };
}

function wasmUniformCells(memory: KernelMemory): typeof uniformCells {
  return (label, width, height, cells) => {
    const { kernels } = memory;
    const words = (width + 15) & ~15;
    const [rowAt, acrossAt, outAt] = memory.place(words + 2 * SIDE + 2, words * height, words * height) as [
      number,
      number,
      number,
    ];
    const row = memory.bytes(rowAt, words + 2 * SIDE + 2);
    for (let y = 0; y < height; y++) {
      const first = y * width;
      row[SIDE - 1] = label[first]!;
      row.set(label.subarray(first, first + width), SIDE);
      row.fill(label[first + width - 1]!, SIDE + width);
      kernels.uniformAcross(rowAt + SIDE, width, acrossAt + y * words);
    }
    kernels.uniformDown(acrossAt, words, height, outAt);
    const stride = cellStride(width);
    const out = memory.bytes(outAt, words * height);
    for (let y = 0; y < height; y++) cells.set(out.subarray(y * words, y * words + stride), y * stride);
  };
}
