"""Bringing a wind score in, against music21 reading the same file: times as ratios of one run.

Each way runs in a process of its own, so that its peak memory is its own; the peaks of a process
and its helpers are added, though they need not come at the same time and share pages.
"""

import io
import json
import statistics
import subprocess
import sys
import tempfile
import time
import zipfile
from pathlib import Path

from bench.sizes import size
from bench.wind_score import wind_score
from postgres import Cluster, free_port

ROOT = Path(__file__).parent.parent.parent
_BARE = "etree.fromstring(data)"
_TARGET_RATIO, _TARGET_MEGABYTES = 0.15, 300
_ROUNDS = size(5, 1)

_TIMED = """
import json, resource, sys, time
data = open(sys.argv[1], 'rb').read()
{setup}
begun = time.perf_counter()
{work}
took = time.perf_counter() - begun
peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
# Two helpers, which share with the first what was in memory before: said too high rather than low.
peak += 2 * resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
print(json.dumps({{'seconds': took, 'megabytes': peak}}))
"""


def _timed(
    path: Path, setup: str, work: str, env: dict[str, str] | None = None
) -> dict[str, float]:
    """The last line of JSON that a piece of code prints, run on a file in a process of its own."""
    done = subprocess.run(
        [sys.executable, "-W", "ignore", "-c", _TIMED.format(setup=setup, work=work), str(path)],
        cwd=ROOT,
        env=env,
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode != 0:
        raise RuntimeError(done.stderr[-2000:])
    found: dict[str, float] = json.loads(done.stdout.strip().splitlines()[-1])
    return found


def _middle(runs: list[dict[str, float]]) -> dict[str, float]:
    return {name: statistics.median(run[name] for run in runs) for name in runs[0]}


_MUSIC21 = ("import music21", "music21.converter.parse(sys.argv[1], forceSource=True)")
_READ = ("from crumb.formats.reading import read_music", "read_music(data)")
_IMPORT_SETUP = """
from pathlib import Path
from tests.api.school import ETUDE, app_on, build_school
from crumb.services.library.drawing import drawing
from crumb.services.music import imports
from crumb.core.vocabulary import Role
from crumb.services.access import Actor
from crumb.store.session import new_session, get_engine
from sqlalchemy.orm import sessionmaker
import tempfile
makes = sessionmaker(get_engine(), expire_on_commit=False)
folder = Path(tempfile.mkdtemp())
from crumb.store.files import FolderStore
from crumb.store.tables import Person
from sqlalchemy import select
school = build_school(app_on(makes, folder), makes, students=1)
with makes() as session:
    mine = Person.program_id == school.program_id
    person = session.scalar(select(Person).where(mine, Person.role == 'director'))
who = Actor(person.id, school.program_id, Role.DIRECTOR)
files = FolderStore(folder)
from crumb.jobs import work  # what is in memory when a box is forked
from crumb.jobs.helpers import each_with_help
from crumb.services.jobs import Try
from crumb.store.queries import jobs
from crumb.store.unit_of_work import unit_of_work
def bring_in(name):
    with unit_of_work(makes) as session:
        imports.begin(session, files, who, file_name=name, data=data)
    with unit_of_work(makes) as session:
        claim = jobs.claim(session)
    attempt = Try(claim.id, claim.tries, makes)
    work.carry_out(
        attempt, 'import', lambda s: imports.bring_in(s, attempt, files, each_with_help)
    )
"""
_IMPORT = """
bring_in('march.musicxml')
"""
_DRAW = """
from crumb.services.library import pieces
from crumb.formats.layout import PAGE
with makes() as session:
    piece, parts = pieces.list_pieces(session, who)[0]
    drawing(pieces.load_part(session, who, parts[0].id).part, PAGE)
"""


def _hostile() -> dict[str, bytes]:
    bomb = io.BytesIO()
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(
            "META-INF/container.xml",
            '<container><rootfiles><rootfile full-path="a.xml"/></rootfiles></container>',
        )
        archive.writestr("a.xml", b" " * 100_000_000)
    score = wind_score(20, 400)
    entities = b'<!DOCTYPE score-partwise [<!ENTITY a "aaaaaaaaaa">]>'
    return {
        "zip bomb": bomb.getvalue(),
        "entity bomb": score.replace(b"?>\n", b"?>\n" + entities, 1),
        "truncated": score[: len(score) * 2 // 3],
        "100,000 measures": b"<score-partwise>" + b"<measure/>" * 100_000 + b"</score-partwise>",
        "PDF named .xml": b"%PDF-1.7" + score,
    }


def _refusals() -> dict[str, float]:
    from crumb.core.errors import UnreadableFile
    from crumb.formats.reading import read_music

    found = {}
    for name, data in _hostile().items():
        begun = time.perf_counter()
        try:
            read_music(data)
        except UnreadableFile:
            found[name] = time.perf_counter() - begun
        else:
            raise AssertionError(f"{name} was not refused")
    return found


_ETUDE = """
from crumb.services.maps import edits, versions
from crumb.services.library import pieces
from crumb.api.views.splitting import map_out
from crumb.formats.layout import SNIPPET
bring_in('etude.musicxml')
took_import = time.perf_counter() - begun
with unit_of_work(makes) as session:
    piece, parts = pieces.list_pieces(session, who)[0]
    part_id = parts[0].id
    versions.apply(session, who, part_id, 0, edits.by_measures(2))
begun = time.perf_counter()
for version in range(1, 21):
    with unit_of_work(makes) as session:
        change = edits.move_edge(3, 1 if version % 2 else -1)
        view = versions.apply(session, who, part_id, version, change)
        map_out(pieces.load_part(session, who, part_id), view).model_dump_json()
edit = (time.perf_counter() - begun) / 20
print(json.dumps({'import': took_import, 'edit': edit}))
sys.exit()
"""


def main() -> int:
    """Measure, print, and say whether the aims are met."""
    import os

    from tests.conftest import alembic

    from crumb.demo.etude import clarinet_etude
    from crumb.formats.musicxml.writer import write_part

    folder = Path(tempfile.mkdtemp(prefix="crumb-bench-"))
    folder.chmod(0o755)
    score, etude = folder / "march.musicxml", folder / "etude.musicxml"
    score.write_bytes(wind_score(20, 400))
    strange = folder / "strange.musicxml"
    strange.write_bytes(wind_score(20, 400, comes_back=False))
    etude.write_bytes(write_part(clarinet_etude()).encode())
    cluster = Cluster(folder / "pg", free_port())
    cluster.start()
    try:
        alembic(cluster.url, "upgrade", "head")
        paths = os.pathsep.join(str(p) for p in (ROOT, ROOT / "tools", ROOT / "src"))
        env = {
            **os.environ,
            "CRUMB_DATABASE_URL": cluster.url,
            "CRUMB_DRAWINGS_DIR": str(folder / "drawings"),
            "PYTHONPATH": paths,
        }
        # In turns, because a machine's speed may double or halve within seconds.
        rounds = [
            (
                _timed(score, *_MUSIC21),
                _timed(score, *_READ, env),
                _timed(score, _IMPORT_SETUP, _IMPORT, env),
            )
            for _ in range(_ROUNDS)
        ]
        theirs, read, whole = (_middle([turn[i] for turn in rounds]) for i in range(3))
        bare = _timed(score, "from lxml import etree", _BARE)
        strange_theirs = _timed(strange, *_MUSIC21)
        strange_whole = _timed(strange, _IMPORT_SETUP, _IMPORT, env)
        drawn = _timed(score, _IMPORT_SETUP, _IMPORT + _DRAW, env)
        small = _timed(etude, _IMPORT_SETUP, _ETUDE, env)
    finally:
        cluster.stop()
    ratio = whole["seconds"] / theirs["seconds"]
    lines = [
        f"score: 20 parts, 400 measures, {score.stat().st_size / 1e6:.1f} MB",
        f"our reading            {read['seconds'] / theirs['seconds']:.2f} of music21's",
        f"our whole import       {ratio:.2f} of music21's reading (aim {_TARGET_RATIO})",
        "the same, where no measure comes back: "
        f"{strange_whole['seconds'] / strange_theirs['seconds']:.2f}",
        f"peak memory            {whole['megabytes']:.0f} MB (aim {_TARGET_MEGABYTES}); "
        f"music21 {theirs['megabytes']:.0f} MB",
        f"to the first engraving {drawn['seconds'] / bare['seconds']:.0f} bare parses of the tree",
    ]
    lines.extend(
        f"refusing {name:<18} {took / whole['seconds']:.3f} of the whole import"
        for name, took in _refusals().items()
    )
    lines.append(f"64-measure etude       {1000 * small['import']:.0f} ms to import")
    lines.append(f"an edit of its chunks  {1000 * small['edit']:.0f} ms to the stored map")
    sys.stdout.write("\n".join(lines) + "\n")
    met = ratio <= _TARGET_RATIO and whole["megabytes"] <= _TARGET_MEGABYTES
    return 0 if met else 1
