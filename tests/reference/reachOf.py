"""Measures how far one film reaches beyond others, and how far apart two films are, by scipy's exact Euclidean distance transform.

Arguments: width, height, reach in pixels (negative: inside), then files of raw bytes, 255 = ink: a film, and those that it is made of. Prints JSON: pixels of ink that
stand further out than the reach and a pixel, pixels that are missing though they lie a pixel within it, and the least distance of the film's pixels from
those of the others, from edge to edge.
"""
import json
import sys

import numpy as np
from scipy import ndimage

width, height, reach = int(sys.argv[1]), int(sys.argv[2]), float(sys.argv[3])
film, *others = (np.fromfile(name, np.uint8).reshape(height, width) > 0 for name in sys.argv[4:])
joined = np.logical_or.reduce(others)
# From a pixel's centre to the joined shapes' edge, which runs half a pixel beyond their outermost centres: positive outside, negative inside.
outside = ndimage.distance_transform_edt(~joined) - 0.5
signed = np.where(joined, 0.5 - ndimage.distance_transform_edt(joined), outside)
print(
    json.dumps(
        {
            "ink": int(film.sum()),
            "tooFar": int((film & (signed > reach + 1)).sum()),
            "missing": int((~film & (signed < reach - 1)).sum()),
            "apart": float(outside[film].min() - 0.5),
        }
    )
)
