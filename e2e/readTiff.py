"""Reads a TIFF with python3-tifffile (an independent reader) and prints what a test asks about it as JSON.

usage: readTiff.py COPY ORIGINAL LEFT TOP RIGHT BOTTOM
Counts the samples that differ from the original outside and inside of the rectangle.
"""
import json
import sys

import numpy as np
import tifffile

copy, original = sys.argv[1:3]
left, top, right, bottom = map(int, sys.argv[3:7])
with tifffile.TiffFile(copy) as file:
    page = file.pages[0]
    a = page.asarray()
    exif = page.tags["ExifTag"].value if "ExifTag" in page.tags else {}
    facts = {
        "width": page.imagewidth,
        "height": page.imagelength,
        "bits": page.bitspersample,
        "orientation": int(page.tags["Orientation"].value),
        "model": page.tags["Model"].value if "Model" in page.tags else None,
        "iccBytes": len(page.tags["InterColorProfile"].value) if "InterColorProfile" in page.tags else 0,
        "iso": exif.get("ISOSpeedRatings") or exif.get("PhotographicSensitivity"),
        "lens": exif.get("LensModel"),
        "pixelX": exif.get("PixelXDimension"),
        "pixelY": exif.get("PixelYDimension"),
    }
b = tifffile.imread(original)
differs = np.any(a.astype(np.int64) != b.astype(np.int64), axis=-1)
inside = np.zeros(differs.shape, bool)
inside[top:bottom, left:right] = True
facts["changedOutside"] = int(differs[~inside].sum())
facts["changedInside"] = int(differs[inside].sum())
with tifffile.TiffFile(original) as file:
    tags = file.pages[0].tags
    facts["originalIccBytes"] = len(tags["InterColorProfile"].value) if "InterColorProfile" in tags else 0
print(json.dumps(facts))
