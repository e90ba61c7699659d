"""What scanners and telephones do to a page, with where each point of it goes."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

Grey = NDArray[np.uint8]
Points = NDArray[np.float64]
"""Rows of x and y, in pixels."""
Random = np.random.Generator


@dataclass(frozen=True, slots=True)
class Degraded:
    """A page and where points of the clean one are in it."""

    grey: Grey
    where: Callable[[Points], Points]


def scan_300(grey: Grey, random: Random) -> Degraded:
    """A good scan: a little skew, blur and grain."""
    return _chain(grey, random, skew=0.8, blur=0.7, grain=8)


def scan_150(grey: Grey, random: Random) -> Degraded:
    """Half the pixels."""
    small = _smaller(grey, 0.5)
    made = _chain(small, random, skew=0.8, blur=0.6, grain=6)
    return Degraded(made.grey, lambda points: made.where(points * 0.5))


def skewed(grey: Grey, random: Random) -> Degraded:
    """Laid on the glass askew."""
    return _chain(grey, random, skew=3.0, blur=0.7, grain=6)


def curled(grey: Grey, random: Random) -> Degraded:
    """From an open book: lines bend towards its back."""
    return _chain(grey, random, skew=0.5, curl=0.008, blur=0.8, grain=6, shade=0.35)


def shadowed(grey: Grey, random: Random) -> Degraded:
    """A hand between the lamp and the paper."""
    return _chain(grey, random, skew=0.7, blur=0.9, grain=8, shade=0.6)


def faint(grey: Grey, random: Random) -> Degraded:
    """Little contrast."""
    pale = (150 + grey.astype(np.float32) * (95 / 255)).astype(np.uint8)
    return _chain(pale, random, skew=0.7, blur=0.8, grain=7)


def two_level(grey: Grey, random: Random) -> Degraded:
    """Black and white alone, as an old copier has it."""
    made = _chain(grey, random, skew=0.8, blur=1.2, grain=25)
    level = float(random.uniform(120, 175))
    return Degraded(np.where(made.grey < level, 0, 255).astype(np.uint8), made.where)


def phone(grey: Grey, random: Random) -> Degraded:
    """Photographed at an angle, with a shadow, smaller."""
    small = _smaller(grey, 0.7)
    made = _chain(
        small, random, skew=1.0, curl=0.003, blur=0.9, grain=9, shade=0.5, tilt=0.03, quality=70
    )
    return Degraded(made.grey, lambda points: made.where(points * 0.7))


KINDS: dict[str, Callable[[Grey, Random], Degraded]] = {
    "scan-300": scan_300,
    "scan-150": scan_150,
    "skewed": skewed,
    "curled": curled,
    "shadowed": shadowed,
    "faint": faint,
    "two-level": two_level,
    "phone": phone,
}


def _smaller(grey: Grey, share: float) -> Grey:
    return np.asarray(
        cv2.resize(grey, None, fx=share, fy=share, interpolation=cv2.INTER_AREA), np.uint8
    )


def _chain(
    grey: Grey,
    random: Random,
    *,
    skew: float = 0.0,
    curl: float = 0.0,
    blur: float = 0.0,
    grain: float = 0.0,
    shade: float = 0.0,
    tilt: float = 0.0,
    quality: int = 0,
) -> Degraded:
    height, width = grey.shape
    turn = cv2.getRotationMatrix2D(
        (width / 2, height / 2), float(random.uniform(-skew, skew)), float(random.uniform(0.95, 1))
    )
    matrix = np.vstack([turn, [0, 0, 1]])
    if tilt:
        corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], dtype=np.float32)
        moves = random.uniform(0, tilt, (4, 2)) * np.array([width, height])
        inward = np.array([[1, 1], [-1, 1], [-1, -1], [1, -1]]) * moves
        matrix = (
            cv2.getPerspectiveTransform(corners, (corners + inward).astype(np.float32)) @ matrix
        )
    bend = float(random.uniform(-1, 1)) * curl * height
    made = cv2.warpPerspective(grey, matrix, (width, height), borderValue=245)
    if bend:
        x, y = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
        made = cv2.remap(
            made, x, y - _bent(x, width, bend).astype(np.float32), cv2.INTER_LINEAR, borderValue=245
        )
    light = np.asarray(made, dtype=np.float32)
    if shade:
        light = light * _shade(width, height, random, shade)
    if blur:
        wide = float(random.uniform(0.6, 1.0)) * blur
        light = np.asarray(cv2.GaussianBlur(light, (0, 0), wide), dtype=np.float32)
    if grain:
        grains = random.normal(0, float(random.uniform(0.4, 1)) * grain, light.shape)
        light = light + grains.astype(np.float32)
    page = np.clip(light, 0, 255).astype(np.uint8)
    if quality:
        _, data = cv2.imencode(".jpg", page, [cv2.IMWRITE_JPEG_QUALITY, quality])
        page = np.asarray(cv2.imdecode(data, cv2.IMREAD_GRAYSCALE), dtype=np.uint8)

    def where(points: Points) -> Points:
        moved = cv2.perspectiveTransform(points.reshape(-1, 1, 2), matrix).reshape(-1, 2)
        found = np.asarray(moved, dtype=np.float64)
        found[:, 1] += _bent(found[:, 0], width, bend)
        return found

    return Degraded(page, where)


def _bent(x: NDArray[Any], width: int, bend: float) -> NDArray[np.float64]:
    return np.asarray(bend * np.square(x / width * 2 - 1), dtype=np.float64)


def _shade(width: int, height: int, random: Random, most: float) -> NDArray[np.float32]:
    low = random.uniform(1 - most, 1, (3, 3)).astype(np.float32)
    large = cv2.resize(low, (width, height), interpolation=cv2.INTER_CUBIC)
    return np.asarray(large.clip(0.15, 1), dtype=np.float32)
