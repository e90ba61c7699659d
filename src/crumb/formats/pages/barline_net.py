"""A small net that tells a barline from a stem, by what stands around a stroke.

It was trained on synthetic pages alone (``tools/pages/train_barlines.py``): engraved music with
known barlines, clean and degraded.
"""

from collections.abc import Sequence
from functools import cache
from importlib.resources import files
from io import BytesIO

import numpy as np
from numpy.typing import NDArray

Weights = dict[str, NDArray[np.float32]]


@cache
def _weights() -> Weights:
    data = files("crumb.formats.pages").joinpath("barlines.npz").read_bytes()
    with np.load(BytesIO(data)) as kept:
        return {name: kept[name].astype(np.float32) for name in kept.files}


def likely_barlines(patches: Sequence[NDArray[np.float32]]) -> NDArray[np.float32]:
    """For each patch the probability, 0 to 1, that a barline stands in the middle of it."""
    if not patches:
        return np.zeros(0, dtype=np.float32)
    seen = np.stack([patch.ravel() for patch in patches]).astype(np.float32)
    return forward(_weights(), seen)


def forward(weights: Weights, seen: NDArray[np.float32]) -> NDArray[np.float32]:
    """Two layers of rectified sums, and a logistic one."""
    first = np.maximum(seen @ weights["a"] + weights["a0"], 0)
    second = np.maximum(first @ weights["b"] + weights["b0"], 0)
    score = second @ weights["c"] + weights["c0"]
    return np.asarray(1 / (1 + np.exp(-np.clip(score, -30, 30))), dtype=np.float32)
