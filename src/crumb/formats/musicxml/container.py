"""From uploaded bytes to a safe XML tree: plain MusicXML or a compressed .mxl container.

Nothing in a file is trusted: entities and the network stay off, sizes, counts and ratios are
bounded before anything is built.
"""

import io
import zipfile
from pathlib import PurePosixPath

from lxml import etree

from crumb.core.errors import UnreadableFile

MAX_FILE_BYTES = 40_000_000
MAX_XML_BYTES = 120_000_000
MAX_ENTRIES = 200
MAX_RATIO = 200
MAX_MEASURES = 60_000
MAX_DEPTH = 40
_ROOTS = ("score-partwise", "score-timewise")


def read_tree(data: bytes) -> etree._Element:
    """The root element of a MusicXML file or container.

    Raises:
        UnreadableFile: not music, broken, or larger than any music is.
    """
    if not data:
        raise UnreadableFile("This file is empty.")
    if len(data) > MAX_FILE_BYTES:
        raise UnreadableFile(f"This file is larger than {MAX_FILE_BYTES // 1_000_000} MB.")
    xml = _unpacked(data) if data[:4] == b"PK\x03\x04" else data
    _refuse_other_kinds(xml)
    _survey(xml)
    parser = etree.XMLParser(
        resolve_entities=False,
        no_network=True,
        load_dtd=False,
        huge_tree=False,
        remove_comments=True,
    )
    try:
        root = etree.fromstring(xml, parser)
    except etree.XMLSyntaxError as error:
        raise _broken(error) from error
    if root.tag == "score-timewise":
        return _partwise(root)
    return root


def _refuse_other_kinds(xml: bytes) -> None:
    head = xml[:1024].lstrip(b"\xef\xbb\xbf \t\r\n")
    if head.startswith(b"%PDF"):
        raise UnreadableFile(
            "This is a PDF, not MusicXML: export MusicXML from the notation program."
        )
    if head.startswith(b"MThd"):
        raise UnreadableFile("This is a MIDI file; bring the part in as MusicXML.")
    is_wide = head[:2] in (b"\xff\xfe", b"\xfe\xff")
    if not head.startswith(b"<") and not is_wide:
        raise UnreadableFile("This is not a MusicXML file.")
    if b"<!ENTITY" in xml or "<!ENTITY".encode("utf-16-le") in xml:
        raise UnreadableFile(
            "This file defines XML entities, which no score needs; it is not read."
        )
    if "<!ENTITY".encode("utf-16-be") in xml:
        raise UnreadableFile(
            "This file defines XML entities, which no score needs; it is not read."
        )


def _survey(xml: bytes) -> None:
    """Walk the file once without keeping it: is it a score, how deep, how many measures."""
    depth = measures = 0
    seen_root = False
    try:
        walk = etree.iterparse(
            io.BytesIO(xml),
            events=("start", "end"),
            resolve_entities=False,
            no_network=True,
            load_dtd=False,
            huge_tree=False,
        )
        for event, element in walk:
            if event == "start":
                depth += 1
                if not seen_root:
                    seen_root = True
                    if element.tag not in _ROOTS:
                        raise UnreadableFile(
                            f"This XML file is not a score: it starts with <{_short(element.tag)}>."
                        )
                if depth > MAX_DEPTH:
                    raise UnreadableFile("This file is nested deeper than any score is.")
                continue
            depth -= 1
            if element.tag == "measure":
                measures += 1
                if measures > MAX_MEASURES:
                    raise UnreadableFile(f"This file has more than {MAX_MEASURES} measures.")
                element.clear()
    except etree.XMLSyntaxError as error:
        raise _broken(error) from error
    if measures == 0:
        raise UnreadableFile("There is no measure in this file.")


def _short(tag: object) -> str:
    return str(tag)[:40]


def _broken(error: etree.XMLSyntaxError) -> UnreadableFile:
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


def _partwise(root: etree._Element) -> etree._Element:
    """A timewise score turned part by part."""
    result = etree.Element("score-partwise")
    parts: dict[str, etree._Element] = {}
    for child in root:
        if child.tag != "measure":
            result.append(child)
            continue
        for part in child.findall("part"):
            name = part.get("id") or ""
            if name not in parts:
                parts[name] = etree.Element("part", id=name)
            measure = etree.SubElement(
                parts[name], "measure", {str(k): str(v) for k, v in child.attrib.items()}
            )
            measure.extend(list(part))
    result.extend(parts.values())
    return result
