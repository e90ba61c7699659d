"""Drills engraved, on screen and on paper, against a stated plain way, in one run.

The plain way: the same notes put into a music21 stream, exported as MusicXML, and drawn by a cold
engraver, which is a program started for each drawing; beside it, what it takes with the engraver in
the same process, made anew for each drawing. Everything is said as a ratio of times of the same
run, but for the time from a changed setting to the new engraving on the screen.
"""

import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Sequence
from fractions import Fraction
from functools import partial
from importlib.resources import files
from itertools import islice
from pathlib import Path
from typing import Any

from bench.sizes import size
from crumb.core.drills import CATALOGUE, Drill, fits, make_drill, passage_of
from crumb.core.drills.passage import Passage
from crumb.core.score.joining import joined
from crumb.core.score.model import Part
from crumb.core.score.position import Position, Span, sounds
from postgres import Cluster, free_port

ROOT = Path(__file__).parent.parent.parent
_PLAIN, _SHARE, _CACHED, _SCREEN_MS = 6.0, 2.0, 0.1, 100.0
_DRILLS = size(60, 4)


def _passages() -> list[Passage]:
    from crumb.demo.etude import clarinet_etude
    from crumb.formats.musicxml.reader import read_score
    from crumb.formats.musicxml.writer import write_part

    part = read_score(write_part(clarinet_etude()).encode()).parts[0]
    return [
        passage_of(part, Span(Position(i, Fraction(0)), Position(i + 2, Fraction(0)), True))
        for i in range(1, 61, 6)
    ]


def _drills() -> list[tuple[Passage, str]]:
    """Every drill that fits, chunk after chunk, a fixed number of them."""
    found = (
        (passage, kind.name)
        for passage in _passages()
        for kind in CATALOGUE
        if fits(passage, kind.name)
    )
    return list(islice(found, 0, _DRILLS * 7, 7))


def _timed(work: Callable[[], object]) -> float:
    begun = time.perf_counter()
    work()
    return time.perf_counter() - begun


def _make(passage: Passage, name: str) -> Drill:
    fresh = Passage(passage.part, passage.span)
    return make_drill(passage.part, passage.span, name, {}, passage=fresh)


def _sheet(drill: Drill) -> Part:
    return joined([s.part for s in drill.steps], [s.name for s in drill.steps])


def _ours(passage: Passage, name: str) -> str:
    from crumb.formats.engraving import engrave
    from crumb.formats.layout import SNIPPET

    return engrave(_sheet(_make(passage, name)), SNIPPET)


def _exported(part: Part) -> str:
    """The same notes as music21 writes them."""
    import music21

    m21: Any = music21  # most of it has no types
    stream = m21.stream.Part()
    time_of = part.measures[0].time
    stream.append(m21.meter.TimeSignature(f"{time_of.numerator}/{time_of.unit}"))
    at = Fraction(0)
    for sound in sounds(part):
        if sound.grace or sound.at < at:
            continue
        if sound.at > at:
            stream.append(m21.note.Rest(quarterLength=sound.at - at))
        pitch = sound.pitch.name.replace("b", "-") if sound.pitch else "B4"
        stream.append(m21.note.Note(pitch, quarterLength=sound.duration))
        at = sound.end
    return str(m21.musicxml.m21ToXml.GeneralObjectExporter(stream).parse().decode())


_OPTIONS = {"pageHeight": 60000, "adjustPageHeight": True, "pageWidth": 1500}
_COLD = f"""
import sys, verovio

verovio.enableLog(verovio.LOG_OFF)
toolkit = verovio.toolkit()
toolkit.setOptions({_OPTIONS!r})
toolkit.loadData(sys.stdin.read())
sys.stdout.write(toolkit.renderToSVG(1))
"""


def _cold(part: Part) -> str:
    """Exported, and drawn by an engraver started for it."""
    return subprocess.run(
        [sys.executable, "-c", _COLD],
        input=_exported(part),
        capture_output=True,
        text=True,
        check=True,
    ).stdout


def _in_process(part: Part) -> str:
    """Exported, and drawn by an engraver of its own in this process."""
    import verovio

    verovio.enableLog(verovio.LOG_OFF)
    toolkit = verovio.toolkit(False)
    toolkit.setResourcePath(str(files("verovio") / "data"))
    toolkit.setOptions(_OPTIONS)
    toolkit.loadData(_exported(part))
    return str(toolkit.renderToSVG(1))


def _against_plain(drills: Sequence[tuple[Passage, str]]) -> tuple[float, float, float]:
    """Drills a second; how many times as long the plain way takes, cold and in this process."""
    sheets = [_sheet(_make(passage, name)) for passage, name in drills]
    _ours(*drills[0])
    # Before music21 is loaded, as on the server, where it never is: its many objects slow others.
    ours = sum(_timed(partial(_ours, passage, name)) for passage, name in drills)
    _in_process(sheets[0])
    cold = sum(_timed(partial(_cold, sheet)) for sheet in sheets)
    near = sum(_timed(partial(_in_process, sheet)) for sheet in sheets)
    return len(drills) / ours, cold / ours, near / ours


def _against_verovio(drills: Sequence[tuple[Passage, str]]) -> float:
    """The 95th percentile of a step's engraving over the engraver's own time for it."""
    ratios = [_share_of(_make(passage, name).steps[0].part) for passage, name in drills]
    return statistics.quantiles(ratios, n=20)[-1]


def _share_of(part: Part) -> float:
    from crumb.formats import engraving
    from crumb.formats.layout import SNIPPET
    from crumb.formats.musicxml.writer import write_part

    xml = write_part(part, name_printed=False)
    options = engraving._options(SNIPPET, xml)

    def alone() -> object:
        return engraving._thread.submit(engraving._render, xml, options).result()

    def whole() -> object:
        return engraving.engrave(part, SNIPPET)

    ours = statistics.median(_timed(whole) for _ in range(3))
    return ours / statistics.median(_timed(alone) for _ in range(3))


def _served(url: str, files_dir: Path) -> tuple[float, float, float, int]:
    """Cached over fresh drawing; ms on the screen; seconds for a set of sheets, and its size."""
    from playwright.sync_api import sync_playwright
    from tests.e2e.conftest import FLAGS
    from tests.e2e.people import direct
    from tests.e2e.serving import env_of, running, serve

    cached = _cached_share()
    server = serve(url, files_dir)
    address = next(server)
    try:
        with (
            running("crumb.jobs.worker", [], env_of(url, files_dir)),
            sync_playwright() as playwright,
        ):
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            direct(page, address)
            page.get_by_role("link", name="Open").first.click()
            page.locator(".tab-text").first.wait_for()
            page.goto(page.url.replace("/split", "/bench?drill=hold"))
            page.locator(".steps .score svg").first.wait_for()
            took = [_changed(page, units) for units in ("3", "4", "2", "3", "4", "2")]
            browser.close()
    finally:
        next(server, None)
    seconds, count = _sheet_set()
    return cached, statistics.median(took), seconds, count


def _changed(page: object, units: str) -> float:
    """Milliseconds from a changed setting until the other engraving stands on the page."""
    script = """
    async (units) => {
      const field = document.querySelector('[aria-label^="for how many of its own length"]')
      const sheet = () => document.querySelector('.steps .score')?.innerHTML
      const before = sheet()
      const begun = performance.now()
      Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, units)
      field.dispatchEvent(new Event('input', { bubbles: true }))
      for (;;) {
        await new Promise((done) => requestAnimationFrame(done))
        if (sheet() !== before && !document.querySelector('.worked.stale')) break
        if (performance.now() - begun > 5000) return 5000
      }
      return performance.now() - begun
    }"""
    return float(page.evaluate(script, units))  # type: ignore[attr-defined]


def _cached_share() -> float:
    from crumb.formats.engraving import engrave
    from crumb.formats.layout import SNIPPET
    from crumb.services.library.drawing import drawing

    part = _make(_passages()[2], "standard-set").steps[0].part
    drawing(part, SNIPPET)
    fresh, kept = [], []
    for _ in range(9):
        fresh.append(_timed(partial(engrave, part, SNIPPET)))
        kept.append(_timed(partial(drawing, part, SNIPPET)))
    return statistics.median(kept) / statistics.median(fresh)


def _sheet_set() -> tuple[float, int]:
    """Seconds to make and print the demo's largest set of sheets thirty players strong."""
    from sqlalchemy import func, select

    from crumb.formats.sheets import print_sheets
    from crumb.services.sheets.printing import make_sheets
    from crumb.store.session import new_session
    from crumb.store.tables import Assignment, AssignmentStudent

    with new_session() as session:
        # The largest of them: one drill's players are those of its section.
        players = func.count(AssignmentStudent.student_id)
        largest = (
            select(Assignment)
            .join(AssignmentStudent)
            .where(Assignment.plan_id.is_(None))
            .group_by(Assignment.id)
            .order_by(players.desc(), Assignment.id)
            .limit(1)
        )
        sent = session.scalars(largest).one()
        begun = time.perf_counter()
        made = make_sheets(session, sent.program_id, sent.sending_id, "https://school.example")
        thirty = [made[i % len(made)] for i in range(30)]
        print_sheets(thirty)
        return time.perf_counter() - begun, len(thirty)


def main() -> int:
    """Measure, print, and say whether the aims are met."""
    from tests.conftest import alembic

    folder = Path(tempfile.mkdtemp(prefix="crumb-bench-"))
    folder.chmod(0o755)
    drills = _drills()
    rate, plain, near = _against_plain(drills)
    share = _against_verovio(drills)
    cluster = Cluster(folder / "pg", free_port())
    cluster.start()
    try:
        alembic(cluster.url, "upgrade", "head")
        os.environ["CRUMB_DATABASE_URL"] = cluster.url
        os.environ["CRUMB_FILES_DIR"] = str(folder / "files")
        subprocess.run([sys.executable, "-m", "crumb.demo.seed"], cwd=ROOT, check=True)
        cached, screen, seconds, count = _served(cluster.url, folder / "files")
    finally:
        cluster.stop()
    lines = [
        f"{len(drills)} drills of the etude, all steps on a sheet each",
        f"generated and engraved   {rate:.1f} a second",
        f"the plain way            {plain:.1f} times as long (aim {_PLAIN:g});"
        f" {near:.1f} with its engraver in the same process",
        f"a step's engraving, p95  {share:.2f} of the engraver's own time (aim {_SHARE:g})",
        f"cached                   {cached:.3f} of engraving it (aim {_CACHED:g})",
        f"a setting changed        {screen:.0f} ms to the new engraving on screen"
        f" (aim {_SCREEN_MS:.0f})",
        f"{count} practice sheets       {seconds:.1f} s",
    ]
    sys.stdout.write("\n".join(lines) + "\n")
    met = plain >= _PLAIN and share <= _SHARE and cached <= _CACHED and screen <= _SCREEN_MS
    return 0 if met else 1
