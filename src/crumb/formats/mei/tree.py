"""The elements of an MEI file, without what editors say about them."""

from collections.abc import Iterator

from lxml import etree

from crumb.core.errors import UnreadableFile

_ID = "{http://www.w3.org/XML/1998/namespace}id"
_THROUGH = frozenset(("supplied", "unclear", "add", "corr", "reg", "subst", "expan", "orig", "sic"))
_OUT = frozenset(("del", "abbr", "gap", "damage"))
_FIRST_OF = {"app": ("lem", "rdg"), "choice": ("corr", "reg", "expan", "orig", "sic")}
_PARSER = etree.XMLParser(
    resolve_entities=False, no_network=True, remove_comments=True, remove_pis=True, recover=False
)


def root_of(data: bytes) -> etree._Element:
    """The whole file.

    Raises:
        UnreadableFile: it is no XML.
    """
    try:
        return etree.fromstring(data, _PARSER)
    except etree.XMLSyntaxError as error:
        raise UnreadableFile(f"This MEI file is broken at line {error.lineno}.") from error


def tag_of(element: etree._Element) -> str:
    """The name of an element without its namespace."""
    return str(element.tag).rpartition("}")[2]


def id_of(element: etree._Element) -> str:
    """The id of an element; empty for none."""
    return element.get(_ID) or ""


def children(element: etree._Element) -> Iterator[etree._Element]:
    """Children of an element, in order, with one reading where editors give several."""
    for child in element:
        tag = tag_of(child)
        if tag in _OUT:
            continue
        if tag in _THROUGH or tag in ("lem", "rdg"):
            yield from children(child)
        elif tag in _FIRST_OF:
            kinds = {tag_of(one): one for one in reversed(child)}
            chosen = next((kinds[name] for name in _FIRST_OF[tag] if name in kinds), None)
            if chosen is not None:
                yield from children(chosen)
        else:
            yield child


def named(element: etree._Element, tag: str) -> Iterator[etree._Element]:
    """The children of that name."""
    return (child for child in children(element) if tag_of(child) == tag)


def first(element: etree._Element, *path: str) -> etree._Element | None:
    """The first descendant along a path of names."""
    here: etree._Element | None = element
    for tag in path:
        here = None if here is None else next(named(here, tag), None)
    return here


def words(element: etree._Element) -> str:
    """The text of an element and all it holds, spaces made one."""
    return " ".join("".join(str(text) for text in element.itertext()).split())[:200]


def count_of(text: str | None, *, most: int) -> int:
    """A whole number from 0; what is none counts as 0."""
    clean = (text or "").strip()
    return min(int(clean), most) if clean.isascii() and clean.isdigit() and len(clean) < 9 else 0
