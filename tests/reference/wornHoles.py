"""Measures holes of a texture on films, by scipy's exact Euclidean distance transform.

Arguments: width, height, radius in pixels, then files of raw bytes, 255 = ink: the base and the colours on it without the texture (all colours in one), the
same two with it. Looked at is what lies further inside of the colours than the radius and the choke together reach. Prints JSON: the share of that which the
colours lost; how many pixels of base stand nearer to a hole than the radius less a pixel, how many are missing that lie further than the radius and a pixel; and
how many pixels of ink stand where none stood.
"""
import json
import sys

import numpy as np
from scipy import ndimage

width, height, radius = int(sys.argv[1]), int(sys.argv[2]), float(sys.argv[3])
base, colours, worn_base, worn_colours = (
    np.fromfile(name, np.uint8).reshape(height, width) > 0 for name in sys.argv[4:8]
)
inside = ndimage.distance_transform_edt(colours) > 2 * radius + 3
holes = colours & ~worn_colours
# From the centre of a pixel to the edge of the hole, which lies half a pixel nearer than the centre of its outermost one.
away = ndimage.distance_transform_edt(~holes) - 0.5
print(
    json.dumps(
        {
            "looked": int(inside.sum()),
            "lost": float((holes & inside).sum() / inside.sum()),
            "tooNear": int((worn_base & inside & (away < radius - 1)).sum()),
            "tooFar": int((base & ~worn_base & inside & (away > radius + 1)).sum()),
            "added": int((worn_base & ~base).sum() + (worn_colours & ~colours).sum()),
        }
    )
)
