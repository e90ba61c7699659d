"""Drawings of notation: each made once, kept beside the files, never in anybody's transaction."""

from collections import OrderedDict
from threading import Lock

from crumb.core.score.model import Part
from crumb.formats.engraver import engravers
from crumb.formats.engraving import drawn_text, engraving_key
from crumb.formats.layout import Layout
from crumb.store.files import get_drawings

_recent: OrderedDict[str, str] = OrderedDict()
"""Drawings met last in this process; the folder keeps the others."""
_MOST_RECENT = 256
_lock = Lock()


def drawing(part: Part, layout: Layout) -> str:
    """The engraving of a part.

    Raises:
        TooMuch, TooBusy: the engraver cannot do it, or not now.
    """
    return drawing_of(drawn_text(part), layout)


def drawing_of(xml: str, layout: Layout) -> str:
    """The engraving of notation as it is kept; see :func:`drawing`."""
    key = engraving_key(xml, layout)
    with _lock:
        known = _recent.get(key)
    if known is not None:
        return known
    kept = get_drawings()
    svg = kept.find(key)
    if svg is None:
        svg = engravers.draw(xml, layout)
        kept.keep(key, svg)
    with _lock:
        _recent[key] = svg
        if len(_recent) > _MOST_RECENT:
            _recent.popitem(last=False)
    return svg
