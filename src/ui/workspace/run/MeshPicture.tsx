'use client';

import { useEffect, useRef } from 'react';
import { parseHexColour } from '@/core/colour';
import type { PlateThumb } from '@/core/pipeline';

interface Props {
  readonly thumb: PlateThumb | null;
  readonly colour: string;
}

/** A plate on its mesh: the open parts in the ink's colour. */
export function MeshPicture({ thumb, colour }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    if (!element || !thumb) return;
    element.width = thumb.width;
    element.height = thumb.height;
    const pixels = new Uint8ClampedArray(thumb.width * thumb.height * 4);
    const ink = parseHexColour(colour);
    for (let i = 0; i < thumb.bytes.length; i++) {
      pixels.set(ink, i * 4);
      pixels[i * 4 + 3] = thumb.bytes[i]!;
    }
    element.getContext('2d')!.putImageData(new ImageData(pixels, thumb.width, thumb.height), 0, 0);
  }, [thumb, colour]);
  return (
    <span className="mesh grid h-[42px] w-[56px] shrink-0 place-items-center overflow-hidden">
      {thumb && <canvas ref={canvas} aria-hidden className="h-[42px] w-full object-contain" />}
    </span>
  );
}
