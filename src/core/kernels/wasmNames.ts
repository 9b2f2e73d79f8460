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
    const colours = new Int32Array(memory.buffer, coloursAt, KNOWN_COUNT);
    const labels = memory.bytes(labelsAt, KNOWN_COUNT);
    const part = new Uint32Array(memory.buffer, pixelsAt, PIXELS);
    const out = memory.bytes(outAt, PIXELS);
    colours.set(known.colours);
    labels.set(known.labels);
    let mixed = 0;
    for (let first = 0; first < pixels.length; first += PIXELS) {
      const count = Math.min(PIXELS, pixels.length - first);
      part.set(pixels.subarray(first, first + count));
      for (let i = 0; ;) {
        i = kernels.namePixels(pixelsAt, i, count, empty, opaque, coloursAt, labelsAt, outAt);
        if (i >= count) break;
        const place = learnt(known, part[i]!);
        colours[place] = known.colours[place]!;
        labels[place] = known.labels[place]!;
      }
      out.fill(0, count, (count + 15) & ~15);
      mixed += kernels.countMixed(outAt, count);
      label.set(out.subarray(0, count), first);
    }
    return mixed;
  };
}

function learnt(known: { learn(colour: number): void }, pixel: number): number {
  const colour = pixel & 0xffffff;
  known.learn(colour);
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
    const { buffer } = memory;
    const colours = new Int32Array(buffer, knownAt, KNOWN_COUNT);
    const firsts = memory.bytes(knownAt + KNOWN_COUNT * 4, KNOWN_COUNT);
    const seconds = memory.bytes(knownAt + KNOWN_COUNT * 5, KNOWN_COUNT);
    const shares = new Uint16Array(buffer, knownAt + KNOWN_COUNT * 6, KNOWN_COUNT);
    const rests = new Uint16Array(buffer, knownAt + KNOWN_COUNT * 8, KNOWN_COUNT);
    colours.set(known.colours);
    firsts.set(known.first);
    seconds.set(known.second);
    shares.set(known.shares);
    rests.set(known.rests);
    const part = new Uint32Array(buffer, pixelsAt, PIXELS);
    const counts = new Int32Array(buffer, countsAt, 2);
    let done = 0;
    let rest = 0;
    for (let first = 0; first < pixels.length && done < mixed.length; first += PIXELS) {
      const count = Math.min(PIXELS, pixels.length - first);
      part.set(pixels.subarray(first, first + count));
      memory.bytes(labelAt, count).set(label.subarray(first, first + count));
      memory.bytes(toneAt, count).set(tone.subarray(first, first + count));
      // What the pixels' mixtures have so far is theirs, too.
      const most = Math.min(count, mixed.length - done);
      memory.bytes(labelsAt, most * 3).set(mixLabels.subarray(done * 3, (done + most) * 3));
      const theirs = new Uint16Array(buffer, sharesAt, most * 3);
      theirs.set(mixShares.subarray(done * 3, (done + most) * 3));
      counts.fill(0);
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
        const place = learnt(known, part[i]!);
        colours[place] = known.colours[place]!;
        firsts[place] = known.first[place]!;
        seconds[place] = known.second[place]!;
        shares[place] = known.shares[place]!;
        rests[place] = known.rests[place]!;
      }
      const [more, moreLeft] = counts as unknown as [number, number];
      mixed.set(new Int32Array(buffer, mixedAt, more), done);
      mixAt.set(new Int32Array(buffer, mixAtAt, count), first);
      mixLabels.set(memory.bytes(labelsAt, more * 3), done * 3);
      mixShares.set(theirs.subarray(0, more * 3), done * 3);
      left.set(new Int32Array(buffer, leftAt, moreLeft), rest);
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
