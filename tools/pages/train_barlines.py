"""Train the net that tells barlines: ``train_barlines.py PATCHES.npz ... --to barlines.npz``.

Patches come from ``gather_barlines.py``. Every run with the same patches gives the same weights.
"""

import argparse
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

SIZES = (64, 16)
EPOCHS = 24
BATCH = 128
RATE = 1.2e-3
DECAY = 1e-4


def main() -> None:
    """Train, and write the weights."""
    asked = argparse.ArgumentParser()
    asked.add_argument("patches", nargs="+", type=Path)
    asked.add_argument("--to", type=Path, required=True)
    arguments = asked.parse_args()
    kept = [np.load(path) for path in arguments.patches]
    seen = np.concatenate([k["X"] for k in kept])
    truth = np.concatenate([k["Y"] for k in kept]).astype(np.float32)
    weights = trained(seen, truth)
    small = {k: v.astype(np.float16) for k, v in weights.items()}
    np.savez_compressed(arguments.to, allow_pickle=False, **small)


def trained(seen: NDArray[np.uint8], truth: NDArray[np.float32]) -> dict[str, NDArray[np.float32]]:
    """Weights by Adam on shifted and lightened patches."""
    random = np.random.default_rng(1)
    wide = (seen.shape[1] * seen.shape[2], *SIZES, 1)
    names = ("a", "b", "c")
    w = {
        n: random.normal(0, np.sqrt(2 / i), (i, o)).astype(np.float32)
        for n, i, o in zip(names, wide, wide[1:], strict=False)
    }
    w |= {f"{n}0": np.zeros(o, dtype=np.float32) for n, o in zip(names, wide[1:], strict=True)}
    moments = {k: (np.zeros_like(v), np.zeros_like(v)) for k, v in w.items()}
    step = 0
    for epoch in range(EPOCHS):
        rate = RATE * 0.5 * (1 + np.cos(np.pi * epoch / EPOCHS))
        order = random.permutation(len(seen))
        lost = 0.0
        for start in range(0, len(order), BATCH):
            rows = order[start : start + BATCH]
            x = _varied(seen[rows], random)
            y = truth[rows]
            gradient, loss = _gradient(w, x, y, random)
            lost += loss * len(rows)
            step += 1
            for k, g in gradient.items():
                m, v = moments[k]
                m += 0.1 * (g - m)
                v += 0.001 * (g * g - v)
                move = m / (1 - 0.9**step) / (np.sqrt(v / (1 - 0.999**step)) + 1e-8)
                w[k] -= rate * (move + DECAY * w[k] * (not k.endswith("0")))
        print(epoch, round(lost / len(order), 5), flush=True)
    w["c"], w["c0"] = w["c"][:, 0], w["c0"][0:1]
    return w


def _varied(x: NDArray[np.uint8], random: np.random.Generator) -> NDArray[np.float32]:
    """Patches a pixel up, down or aside, some of them mirrored or fainter."""
    made = x.astype(np.float32) / 255
    made = np.roll(made, (int(random.integers(-1, 2)), int(random.integers(-1, 2))), (1, 2))
    if random.random() < 0.3:
        made = made[:, ::-1]
    made *= random.uniform(0.75, 1.1, (len(made), 1, 1)).astype(np.float32)
    return np.asarray(np.clip(made, 0, 1).reshape(len(x), -1), dtype=np.float32)


def _gradient(
    w: dict[str, NDArray[np.float32]],
    x: NDArray[np.float32],
    y: NDArray[np.float32],
    random: np.random.Generator,
) -> tuple[dict[str, NDArray[np.float32]], float]:
    keep = (random.random(x.shape) > 0.05).astype(np.float32)
    x = x * keep
    one = np.maximum(x @ w["a"] + w["a0"], 0)
    two = np.maximum(one @ w["b"] + w["b0"], 0)
    p = 1 / (1 + np.exp(-np.clip((two @ w["c"] + w["c0"])[:, 0], -30, 30)))
    soft = y * 0.98 + 0.01
    loss = -np.mean(soft * np.log(p + 1e-7) + (1 - soft) * np.log(1 - p + 1e-7))
    d3 = ((p - soft) / len(y))[:, None]
    d2 = (d3 @ w["c"].T) * (two > 0)
    d1 = (d2 @ w["b"].T) * (one > 0)
    return {
        "a": x.T @ d1, "a0": d1.sum(axis=0),
        "b": one.T @ d2, "b0": d2.sum(axis=0),
        "c": two.T @ d3, "c0": d3.sum(axis=0),
    }, float(loss)  # fmt: skip


if __name__ == "__main__":
    main()
