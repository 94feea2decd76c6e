"""Writes the trained weights as the application reads them, in the open "safetensors" form: the length of a JSON header (8
bytes, little-endian), the header, the numbers as float32.

Usage: /usr/bin/python3 training/export.py CHECKPOINT [kernels/wasm/texture.safetensors]
"""
import json
import sys

import torch


def main(checkpoint, out="kernels/wasm/texture.safetensors"):
    state = torch.load(checkpoint, map_location="cpu")
    header = {"__metadata__": {"batches": str(state["step"]), "card": "training/README.md"}}
    body = b""
    for at in range(len(state["model"])):
        weights = state["model"][f"convolutions.{at}.weight"]
        numbers = weights.numpy().astype("<f4").tobytes()
        places = [len(body), len(body) + len(numbers)]
        header[f"convolution{at}"] = {"dtype": "F32", "shape": list(weights.shape), "data_offsets": places}
        body += numbers
    text = json.dumps(header).encode()
    text += b" " * (-len(text) % 8)
    with open(out, "wb") as file:
        file.write(len(text).to_bytes(8, "little") + text + body)


main(*sys.argv[1:])
