"""From uploaded bytes to safe XML elements: plain MusicXML or a compressed .mxl container.

Nothing in a file is trusted: entities and the network stay off, sizes, counts and ratios are
bounded before anything is built, the parser bounds the depth, and only one measure is in memory.
"""

import io
import zipfile
from collections.abc import Iterator
from pathlib import PurePosixPath

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.formats.musicxml.bounds import MOST_NOTES

MAX_FILE_BYTES = 40_000_000
MAX_XML_BYTES = 120_000_000
MAX_ENTRIES = 200
MAX_RATIO = 200
MAX_MEASURES = 60_000
_ROOTS = ("score-partwise", "score-timewise")


HEADING = ("score-part", "work", "movement-title", "creator", "credit")
"""Elements before the music that say something of it."""


def plain_xml(data: bytes) -> bytes:
    """The MusicXML in an upload, unpacked.

    Raises:
        UnreadableFile: not music, broken, or larger than any music is.
    """
    if not data:
        raise UnreadableFile("This file is empty.")
    if len(data) > MAX_FILE_BYTES:
        raise UnreadableFile(f"This file is larger than {MAX_FILE_BYTES // 1_000_000} MB.")
    xml = _unpacked(data) if data[:4] == b"PK\x03\x04" else data
    refuse_other_kinds(xml)
    if _count(xml, "<measure") > MAX_MEASURES and _measures(xml) > MAX_MEASURES:
        raise UnreadableFile(f"This file has more than {MAX_MEASURES} measures.")
    if _count(xml, "<note") > MOST_NOTES:
        raise UnreadableFile(f"This file has more than {MOST_NOTES} notes; bring it in in pieces.")
    if not _starts_score(xml) and _measures(xml) == 0:
        raise UnreadableFile("This XML file is not a score.")
    _refuse_cut_off(xml)
    return xml


def elements(xml: bytes) -> Iterator[etree._Element]:
    """Finished elements in the order of the file, each forgotten once it was taken.

    A measure's parent is its part (in a timewise score, the parts of a measure come one by one).

    Raises:
        UnreadableFile: the root is not a score, or nothing in it is a measure.
        etree.XMLSyntaxError: the file is broken.
    """
    walk = etree.iterparse(
        io.BytesIO(xml),
        events=("end",),
        tag=("measure", "part", *HEADING),
        resolve_entities=False,
        no_network=True,
        load_dtd=False,
        huge_tree=False,
        remove_comments=True,
        remove_pis=True,
    )
    root: etree._Element | None = None
    is_timewise = False
    count = 0
    for _, element in walk:
        if root is None:
            root = element.getroottree().getroot()
            if root.tag not in _ROOTS:
                raise UnreadableFile(
                    f"This XML file is not a score: it starts with <{str(root.tag)[:40]}>."
                )
            is_timewise = root.tag == "score-timewise"
        if element.tag == "measure":
            count += 1
            if is_timewise:
                yield from _turned(element)
            else:
                yield element
            element.clear()
        elif element.tag == "part" and is_timewise:
            continue
        else:
            yield element
            if element.tag == "part":
                element.clear()
    if count == 0:
        raise UnreadableFile("There is no measure in this file.")


def _turned(measure: etree._Element) -> Iterator[etree._Element]:
    """The parts of a timewise measure, each as a measure of that part."""
    attributes = {str(k): str(v) for k, v in measure.attrib.items()}
    for part in list(measure):
        if part.tag == "part":
            holder = etree.Element("part", id=part.get("id") or "")
            turned = etree.SubElement(holder, "measure", attributes)
            turned.extend(list(part))
            yield turned


def _measures(xml: bytes) -> int:
    return sum(_count(xml, f"<measure{after}") for after in (" ", ">", "/"))


def _count(xml: bytes, text: str) -> int:
    """How often a text stands in a file, whichever width its letters have."""
    found = xml.count(text.encode())
    if b"\0" in xml[:64]:
        found += xml.count(text.encode("utf-16-le")) + xml.count(text.encode("utf-16-be"))
    return found


def _starts_score(xml: bytes) -> bool:
    return any(_count(xml[:4096], f"<{root}") for root in _ROOTS)


def _refuse_cut_off(xml: bytes) -> None:
    """A file that was cut off is known by its end, before anything is read."""
    tail = xml[-4096:]
    if not any(_count(tail, f"</{root}") for root in _ROOTS) and _starts_score(xml):
        line = xml.count(b"\n") + 1
        raise UnreadableFile(f"This file is broken or cut off near line {line}; export it again.")


def refuse_other_kinds(xml: bytes) -> None:
    """Refuse what is no XML, by the first bytes of it.

    Raises:
        UnreadableFile: says what it is.
    """
    head = xml[:1024].lstrip(b"\xef\xbb\xbf \t\r\n")
    if head.startswith(b"%PDF"):
        raise UnreadableFile(
            "This is a PDF, not MusicXML: export MusicXML from the notation program."
        )
    is_wide = head[:2] in (b"\xff\xfe", b"\xfe\xff")
    if not head.startswith(b"<") and not is_wide:
        raise UnreadableFile("This is not a MusicXML file.")
    if _count(xml, "<!ENTITY"):
        raise UnreadableFile(
            "This file defines XML entities, which no score needs; it is not read."
        )


def broken(error: etree.XMLSyntaxError) -> UnreadableFile:
    """The parser's complaint in plain words."""
    line = error.lineno
    where = f" near line {line}" if line else ""
    return UnreadableFile(f"This file is broken or cut off{where}; export it again.")


def _unpacked(data: bytes) -> bytes:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = archive.infolist()
            if len(entries) > MAX_ENTRIES:
                raise UnreadableFile(f"This container holds more than {MAX_ENTRIES} files.")
            name = _root_file(archive)
            return _entry(archive, name)
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, OSError) as error:
        raise UnreadableFile("This .mxl container is broken; export it again.") from error


def _root_file(archive: zipfile.ZipFile) -> str:
    names = archive.namelist()
    if "META-INF/container.xml" not in names:
        raise UnreadableFile("This archive is not a MusicXML container.")
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False)
    try:
        container = etree.fromstring(_entry(archive, "META-INF/container.xml"), parser)
    except etree.XMLSyntaxError as error:
        raise UnreadableFile("The table of contents of this .mxl is broken.") from error
    for rootfile in container.iter("{*}rootfile"):
        path = rootfile.get("full-path") or ""
        pure = PurePosixPath(path)
        if path not in names or pure.is_absolute() or ".." in pure.parts:
            raise UnreadableFile("This .mxl points to a score that it does not hold.")
        return path
    raise UnreadableFile("This .mxl names no score.")


def _entry(archive: zipfile.ZipFile, name: str) -> bytes:
    info = archive.getinfo(name)
    if info.file_size > MAX_XML_BYTES or info.file_size > MAX_RATIO * max(info.compress_size, 1):
        raise UnreadableFile("This container unpacks to far more than a score holds.")
    with archive.open(info) as stream:
        content = stream.read(MAX_XML_BYTES + 1)
    if len(content) > MAX_XML_BYTES:
        raise UnreadableFile("This container unpacks to far more than a score holds.")
    return content
