"""Writes the trained weights as the application reads them, in the open "safetensors" form: the length of a JSON header
(8 bytes, little-endian), the header, the numbers as float16.

Usage: /usr/bin/python3 training/subject/export.py CHECKPOINT [kernels/wasm/subject.safetensors]
"""
import json
import sys

import torch


def main(checkpoint, out="kernels/wasm/subject.safetensors"):
    state = torch.load(checkpoint, map_location="cpu")
    header = {"__metadata__": {"batches": str(state["step"]), "card": "training/subject/README.md"}}
    body = b""
    for name, weights in state["mean"].items():
        way, part, _, at, _ = name.split(".")
        numbers = weights.numpy().astype("<f2").tobytes()
        places = [len(body), len(body) + len(numbers)]
        header[f"{way}{part}.{at}"] = {"dtype": "F16", "shape": list(weights.shape), "data_offsets": places}
        body += numbers
    text = json.dumps(header).encode()
    text += b" " * (-len(text) % 8)
    with open(out, "wb") as file:
        file.write(len(text).to_bytes(8, "little") + text + body)


main(*sys.argv[1:])
