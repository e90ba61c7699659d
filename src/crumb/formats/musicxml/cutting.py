"""A partwise file cut at its parts, measures and notes, without building a tree of it.

Most notes of a score are written like one that came before, so they need not be parsed again.
Nothing is taken on trust: what lies between two cuts must be whole elements by itself, or the file
is not cut at all and the tree parser has the word. That is exact because a ``<`` begins a tag
wherever a file has neither comments, CDATA nor instructions to programs.
"""

import codecs
import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from lxml import etree

from crumb.formats.musicxml.notes import NoteBody, read_note

_FIRST_PART = re.compile(rb"<part\s")
_SAID = rb"<&\x00-\x08\x0b\x0c\x0e-\x1f"  # what no value may hold
_NAMED = rb"""\s+([A-Za-z_][\w.-]*)\s*=\s*(?:"([^"%s]*)"|'([^'%s]*)')""" % (_SAID, _SAID)
_ATTRIBUTE = re.compile(_NAMED)
_ATTRIBUTES = rb"((?:" + _NAMED + rb"){0,40})"  # no tag of a score has more
_TAGS = {tag: re.compile(rb"\s*<" + tag + _ATTRIBUTES + rb"\s*>") for tag in (b"part", b"measure")}
_DECLARATION = re.compile(rb"^\s*<\?xml\s[^>]*\?>")
# Comments and instructions to programs. Both give up at what can only be another's beginning, so
# that a file full of beginnings costs no more than its length.
_ASIDE = re.compile(rb"<!--(?:(?!--).)*-->|<\?[^<]*?\?>", re.DOTALL)
_ENCODING = re.compile(rb"""^<\?xml[^>]*\sencoding\s*=\s*["']([\w.-]+)["']""")
_UTF8 = frozenset((b"utf-8", b"us-ascii", b"ascii"))
# Nearly every part and measure: its id or number, and where it was drawn.
_USUAL = re.compile(
    rb"""\s*<(part|measure) (id|number)="([^"%s]*)"(?: width="[.0-9]*")?>""" % _SAID
)
# Nearly every note: nothing before it, and only its name and where it was drawn.
_PLAIN_NOTE = re.compile(
    rb"""\s*<note(?: id="[\w.:-]*")?(?: (?:default|relative)-[xy]="[-.0-9]*"){0,4}>"""
)
_NOTE = re.compile(rb"<note" + _ATTRIBUTES + rb"\s*>")
_MOST_PARTS = 500
_PARSER = etree.XMLParser(
    resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False, remove_comments=True
)

Child = etree._Element | NoteBody
"""What a measure holds: a note's body, anything else as an element."""


class NotCuttable(Exception):
    """The file is not written plainly enough to be cut; it may still be good."""


@dataclass(frozen=True, slots=True)
class CutPart:
    """A part's id and the text of its measures."""

    id: str
    text: bytes

    def measures(self) -> Iterator[tuple[dict[str, str], bytes]]:
        """Attributes and content of each measure.

        Raises:
            NotCuttable: something else stands between them.
        """
        *measures, rest = self.text.split(b"</measure>")
        if rest.strip():
            raise NotCuttable
        for measure in measures:
            attributes, begin = _opened(b"measure", measure)
            yield attributes, measure[begin:]


@dataclass(frozen=True, slots=True)
class Cut:
    """The elements before the first part, and the parts."""

    head: etree._Element
    parts: tuple[CutPart, ...]


def cut(xml: bytes) -> Cut:
    """A file at its parts.

    Raises:
        NotCuttable: as it says.
    """
    xml = _plain(xml)
    first = _FIRST_PART.search(xml)
    if first is None:
        raise NotCuttable
    place = first.start()
    parts = []
    while (end := xml.find(b"</part>", place)) >= 0:
        attributes, begin = _opened(b"part", xml, place)
        parts.append(CutPart(attributes.get("id", ""), xml[begin:end]))
        if len(parts) > _MOST_PARTS:
            raise NotCuttable
        place = end + len(b"</part>")
    tail = xml[place:].strip()
    head = _parsed(xml[: first.start()] + tail)
    if tail != b"</score-partwise>" or head.tag != "score-partwise":
        raise NotCuttable
    return Cut(head, tuple(parts))


@lru_cache(maxsize=256)
def children_of(content: bytes) -> tuple[Child, ...]:
    """What a measure holds between its tags, in order; many a measure comes more than once.

    Raises:
        NotCuttable: the content does not come apart into whole elements.
        UnreadableFile: a note that cannot be.
    """
    *notes, rest = content.split(b"</note>")
    found: list[Child] = []
    for text in notes:
        plain = _PLAIN_NOTE.match(text)
        if plain is not None:
            found.append(_note(b"<note>" + text[plain.end() :]))
            continue
        tag = _NOTE.search(text)
        if tag is None:
            raise NotCuttable
        before = text[: tag.start()]
        if not before.isspace():
            found.extend(_elements(before))
        # Of what its tag may say only this is about the music.
        opened = tag[0] if "print-object" in _attributes(tag[1]) else b"<note>"
        found.append(_note(opened + text[tag.end() :]))
    if not rest.isspace():
        found.extend(_elements(rest))
    return tuple(found)


@lru_cache(maxsize=4096)
def _note(text: bytes) -> NoteBody:
    return read_note(_parsed(text + b"</note>"))


def _elements(text: bytes) -> Iterator[etree._Element]:
    yield from _parsed(b"<measure>" + text + b"</measure>")


def _parsed(text: bytes) -> etree._Element:
    try:
        return etree.fromstring(text, _PARSER)
    except etree.XMLSyntaxError as error:
        raise NotCuttable from error


def _opened(tag: bytes, text: bytes, place: int = 0) -> tuple[dict[str, str], int]:
    """The attributes of a tag that stands in a text at a place, and where its content begins."""
    usual = _USUAL.match(text, place)
    if usual is not None and usual[1] == tag:
        return {usual[2].decode(): usual[3].decode()}, usual.end()
    begun = _TAGS[tag].match(text, place)
    if begun is None:
        raise NotCuttable
    return _attributes(begun[1]), begun.end()


def _attributes(text: bytes) -> dict[str, str]:
    found = _ATTRIBUTE.findall(text)
    attributes = {name.decode(): (double or single).decode() for name, double, single in found}
    if len(attributes) < len(found):
        raise NotCuttable
    return attributes


def _plain(xml: bytes) -> bytes:
    """The file as UTF-8 without comments and instructions to programs."""
    if xml[:2] in (codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE):
        try:
            xml = _DECLARATION.sub(b"", xml.decode("utf-16").encode(), count=1)
        except UnicodeDecodeError as error:
            raise NotCuttable from error
    xml = xml.removeprefix(codecs.BOM_UTF8)
    declared = _ENCODING.search(xml[:200])
    if b"\0" in xml[:200] or (declared and declared[1].lower() not in _UTF8):
        raise NotCuttable
    if b"<![CDATA[" in xml or not _is_utf8(xml):
        raise NotCuttable
    if b"<!--" in xml or xml.count(b"<?") > xml.startswith(b"<?xml"):
        xml = b"".join(_without_asides(xml))
        if b"<!--" in xml or b"<?" in xml:
            raise NotCuttable
    return xml


def _is_utf8(xml: bytes) -> bool:
    try:
        return xml.isascii() or bool(xml.decode())
    except UnicodeDecodeError:
        return False


def _without_asides(xml: bytes) -> Iterator[bytes]:
    begin = 0
    for aside in _ASIDE.finditer(xml):
        here = aside.start()
        if xml.rfind(b"<", 0, here) > xml.rfind(b">", 0, here):
            raise NotCuttable  # inside a tag, where none may be
        yield xml[begin:here]
        begin = aside.end()
    yield xml[begin:]
