"""Measures what a trap added to a film, by scipy's exact Euclidean distance transform.

Arguments: width, height, then files of raw bytes, 255 = ink: the plate without its trap, the plate with it, all inks of the films without traps. Prints JSON:
how many pixels were added and taken, how far the added ones lie from the plate's own ink (the centre of the nearest inked pixel, in pixels), and how many of
them stand where nothing printed before.
"""
import json
import sys

import numpy as np
from scipy import ndimage

width, height = int(sys.argv[1]), int(sys.argv[2])
before, after, inked = (np.fromfile(name, np.uint8).reshape(height, width) > 0 for name in sys.argv[3:6])
added = after & ~before
distance = ndimage.distance_transform_edt(~before)
far = distance[added]
print(
    json.dumps(
        {
            "added": int(added.sum()),
            "taken": int((before & ~after).sum()),
            "most": float(far.max()) if far.size else 0,
            "beyond": int((added & ~inked).sum()),
        }
    )
)
