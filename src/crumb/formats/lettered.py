"""The number of a measure that bears a letter, which the engraver leaves out."""

import re

_MEASURE = re.compile(r'<measure number="([^"]*)" id="(m\d+)"')
_DRAWN = re.compile(r'<g id="(m\d+)" class="measure"')
_LETTER = re.compile(
    r'<g id="[^"]*" class="reh\b[^>]*><rect [^>]*x="(?P<x>-?\d+)" y="(?P<y>-?\d+)"'
    r' height="(?P<height>\d+)" width="(?P<width>\d+)"'
)
_SIZE, _BESIDE = 324, 110
"""Of the engraver's own numbers, in its units; and how far from the box of the letter."""


def numbers_beside_letters(svg: str, xml: str) -> str:
    """The drawing with each letter's measure numbered beside the box of the letter.

    Args:
        svg: the drawing.
        xml: what was drawn, whose measures have the ids that the drawing has.
    """
    numbers = {name: number for number, name in _MEASURE.findall(xml)}
    starts = [(match.start(), match[1]) for match in _DRAWN.finditer(svg)]
    pieces, done = [], 0
    for (start, name), end in zip(starts, [*(s for s, _ in starts[1:]), len(svg)], strict=True):
        letter = _LETTER.search(svg, start, end)
        number = numbers.get(name, "")
        if letter is None or not number or 'class="mNum' in svg[start:end]:
            continue
        x = int(letter["x"]) + int(letter["width"]) + _BESIDE
        y = int(letter["y"]) + int(letter["height"])
        pieces.append(svg[done : letter.start()])
        pieces.append(
            f'<g id="number-{name}" class="mNum"><text x="{x}" y="{y}" font-size="0px">'
            f'<tspan class="text"><tspan font-size="{_SIZE}px">{number}</tspan></tspan></text></g>'
        )
        done = letter.start()
    return "".join([*pieces, svg[done:]])
