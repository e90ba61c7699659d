"""Drawings of notation and of crops: each made once, never in anybody's transaction."""

from collections import OrderedDict
from threading import Lock

from crumb.core.pages.crops import is_crop
from crumb.core.score.model import Part
from crumb.formats.engraver import engravers
from crumb.formats.engraving import drawn_text, engraving_key
from crumb.formats.layout import Layout
from crumb.formats.pages.crops import crops_key, draw_crops
from crumb.store.files import get_drawings, get_files

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


def drawing_of(text: str, layout: Layout) -> str:
    """The drawing of notation, or of crops of pages, as it is kept; see :func:`drawing`."""
    key = crops_key(text, layout) if is_crop(text) else engraving_key(text, layout)
    with _lock:
        known = _recent.get(key)
    if known is not None:
        return known
    svg = _drawn(text, layout, key)
    with _lock:
        _recent[key] = svg
        if len(_recent) > _MOST_RECENT:
            _recent.popitem(last=False)
    return svg


def _drawn(text: str, layout: Layout, key: str) -> str:
    """Crops are never kept beside the files: a page goes for good when its piece does."""
    if is_crop(text):
        return draw_crops(text, layout, get_files().load)
    kept = get_drawings()
    svg = kept.find(key)
    if svg is None:
        svg = engravers.draw(text, layout)
        kept.keep(key, svg)
    return svg
