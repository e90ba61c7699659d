"""The shapes of levels as a font, for the Wall: python tools/level_font.py writes it.

Of all that a browser can put on a page hundreds of times, letters are the lightest to move. The
font is made of the numbers from which the page draws the shapes anywhere else, and kept beside
them. A lighter tone becomes bars.
"""

import json
import sys
from io import BytesIO
from itertools import pairwise
from math import cos, hypot, pi, sin
from pathlib import Path
from typing import Any

from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen

_FOLDER = Path(__file__).parent.parent / "web" / "src" / "shared" / "ui"
SHAPES, FONT = _FOLDER / "levelShapes.json", _FOLDER / "levels.woff"
FIRST = 0xE000
_EM, _BOX = 1000, 24
_WIDE = 1390
"""Units of the box: next to a number of the usual size a shape is as large as elsewhere."""
_MIDDLE = 330
"""Units above the line at which a number has its middle."""
_GAP = 200
_TURN = 48
_BAR = 2.0

Point = tuple[float, float]
Polygon = list[Point]


def contours(shape: dict[str, Any]) -> list[Polygon]:
    """Areas of a shape in its box, y downwards; what is cut out runs the other way round."""
    found: list[Polygon] = []
    if "outline" in shape:
        outline = _points(shape["outline"])
        found += [_grown(outline, 1), _grown(outline, -1)[::-1]]
        found += _toned(_points(shape["filled"]), shape["tone"])
    if "solid" in shape:
        found += [_points(shape["solid"]), _stroke(_points(shape["check"]), 2.2)[::-1]]
    if "ring" in shape:
        found += _ring(**shape["ring"])
    return found


def _points(pairs: list[list[float]]) -> Polygon:
    return [(x, y) for x, y in pairs]


def area(polygon: Polygon) -> float:
    """Twice its area; positive where it runs clockwise on the page."""
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in pairwise([*polygon, polygon[0]]))


def _grown(polygon: Polygon, by: float) -> Polygon:
    """A clockwise polygon whose edges lie further out."""
    edges = list(pairwise([*polygon, polygon[0]]))
    return [_corner(edges[i - 1], edge, by) for i, edge in enumerate(edges)]


def _corner(before: tuple[Point, Point], after: tuple[Point, Point], by: float) -> Point:
    """Where two edges meet that are moved out."""
    (ax, ay), (bx, by_) = _normal(before), _normal(after)
    shared = 1 + ax * bx + ay * by_
    return after[0][0] + by * (ax + bx) / shared, after[0][1] + by * (ay + by_) / shared


def _normal(edge: tuple[Point, Point]) -> Point:
    (ax, ay), (bx, by) = edge
    length = hypot(bx - ax, by - ay)
    return (by - ay) / length, (ax - bx) / length


def _toned(polygon: Polygon, tone: float) -> list[Polygon]:
    """A convex polygon; where it is lighter, as bars of so much of their distance."""
    if tone >= 1:
        return [polygon]
    top, bottom = min(y for _, y in polygon), max(y for _, y in polygon)
    bars = []
    while top < bottom:
        end = min(top + _BAR * tone, bottom)
        (left, right), (left_end, right_end) = _across(polygon, top), _across(polygon, end)
        bars.append([(left, top), (right, top), (right_end, end), (left_end, end)])
        top += _BAR
    return bars


def _across(polygon: Polygon, y: float) -> tuple[float, float]:
    """From where to where a convex polygon reaches at a height."""
    found = []
    for (ax, ay), (bx, by) in pairwise([*polygon, polygon[0]]):
        if ay == by == y:
            found += [ax, bx]
        elif ay != by and min(ay, by) <= y <= max(ay, by):
            found.append(ax + (bx - ax) * (y - ay) / (by - ay))
    return min(found), max(found)


def _stroke(line: Polygon, width: float) -> Polygon:
    """A line of three points as an area, clockwise."""
    first, middle, last = line
    half = width / 2
    there = [_moved(first, _normal((first, middle)), half)]
    there.append(_corner((first, middle), (middle, last), half))
    there.append(_moved(last, _normal((middle, last)), half))
    back = [_moved(last, _normal((middle, last)), -half)]
    back.append(_corner((first, middle), (middle, last), -half))
    back.append(_moved(first, _normal((first, middle)), -half))
    return [*there, *back]


def _moved(point: Point, way: Point, by: float) -> Point:
    return point[0] + way[0] * by, point[1] + way[1] * by


def _ring(radius: float, width: float, dashes: int = 0, drawn: float = 1) -> list[Polygon]:
    outer, inner = radius + width / 2, radius - width / 2
    if not dashes:
        return [_arc(outer, 0, 1), _arc(inner, 0, 1)[::-1]]
    turns = [(i / dashes, (i + drawn) / dashes) for i in range(dashes)]
    return [[*_arc(outer, *turn), *_arc(inner, *turn)[::-1]] for turn in turns]


def _arc(radius: float, start: float, end: float) -> Polygon:
    """Points on a circle from one share of a turn to another."""
    steps = max(round(_TURN * (end - start)), 2)
    turns = [2 * pi * (start + (end - start) * i / steps) for i in range(steps + 1)]
    return [(12 + radius * cos(turn), 12 + radius * sin(turn)) for turn in turns]


def font() -> bytes:
    """The font, a letter a level."""
    shapes = json.loads(SHAPES.read_text())
    names = [f"level{level}" for level in range(len(shapes))]
    builder = FontBuilder(_EM, isTTF=True)
    builder.setupGlyphOrder([".notdef", *names])
    builder.setupCharacterMap({FIRST + level: name for level, name in enumerate(names)})
    glyphs = {name: _glyph(shape) for name, shape in zip(names, shapes, strict=True)}
    builder.setupGlyf({".notdef": TTGlyphPen(None).glyph(), **glyphs})
    widths = {".notdef": (_EM, 0)} | dict.fromkeys(names, (_WIDE + _GAP, 0))
    builder.setupHorizontalMetrics(widths)
    builder.setupHorizontalHeader(ascent=_EM, descent=-_GAP)
    builder.setupNameTable({"familyName": "Crumb Levels", "styleName": "Regular"})
    builder.setupOS2(sTypoAscender=_EM, sTypoDescender=-_GAP)
    builder.setupPost()
    builder.updateHead(created=0, modified=0)
    builder.font.flavor = "woff"
    builder.font.recalcTimestamp = False
    out = BytesIO()
    builder.save(out)
    return out.getvalue()


def _glyph(shape: dict[str, Any]) -> Any:  # noqa: ANN401
    pen = TTGlyphPen(None)
    scale = _WIDE / _BOX
    for contour in contours(shape):
        placed = [(round(x * scale), round(_MIDDLE + (12 - y) * scale)) for x, y in contour]
        pen.moveTo(placed[0])
        for point in placed[1:]:
            pen.lineTo(point)
        pen.closePath()
    return pen.glyph()


def main() -> int:
    """Write it."""
    FONT.write_bytes(font())
    return 0


if __name__ == "__main__":
    sys.exit(main())
