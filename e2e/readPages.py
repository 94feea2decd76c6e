"""Reads every page of a TIFF with python3-tifffile (an independent reader) and prints what a test asks about it as JSON.

usage: readPages.py COPY
Roughness is the mean difference of neighbouring samples: noise makes it large.
"""
import json
import sys

import numpy as np
import tifffile

with tifffile.TiffFile(sys.argv[1]) as file:
    pages = [
        {
            "name": page.tags[285].value if 285 in page.tags else None,
            "width": page.imagewidth,
            "height": page.imagelength,
            "bits": page.bitspersample,
            "roughness": float(np.mean(np.abs(np.diff(page.asarray().astype(float), axis=1)))),
        }
        for page in file.pages
    ]
print(json.dumps(pages))
