"""Backup: every table and file in one archive; restore; proof by checksum that both are equal.

The file is a zip: each table as PostgreSQL's own COPY writes it, in the order of its key; every
kept file under its name; ``manifest.json`` with the checksum of each and the migration they belong
to.
"""

import json
import os
import zipfile
from collections.abc import Iterator
from dataclasses import asdict, dataclass
from hashlib import sha256
from pathlib import Path
from typing import Any

from psycopg import Connection, sql
from sqlalchemy import Engine, Table

from crumb.store.tables import Base

_MANIFEST = "manifest.json"
_BLOCK = 1 << 20
_LEFT_OUT = ("worker",)
"""Signs of life are no data."""


class NotEmpty(Exception):
    """A backup is restored into an empty database and an empty folder only."""


class NotEqual(Exception):
    """A backup whose content is not what its list says."""


@dataclass(frozen=True, slots=True)
class Proof:
    """A table or file by its checksum; ``count`` rows or bytes."""

    digest: str
    count: int


@dataclass(frozen=True, slots=True)
class Manifest:
    """The content of a backup."""

    revision: str
    tables: dict[str, Proof]
    files: dict[str, Proof]

    def told(self) -> str:
        """In words."""
        rows = sum(proof.count for proof in self.tables.values())
        size = sum(proof.count for proof in self.files.values())
        return (
            f"{len(self.tables)} tables with {rows} rows and {len(self.files)} files with"
            f" {size} bytes, each equal by its checksum."
        )


def back_up(engine: Engine, folder: Path, target: Path) -> str:
    """Write everything into one file; what it holds, in words.

    The database is read as it stood at one moment. The file has its name only once it is whole.
    """
    unfinished = target.with_name(f"{target.name}.part")
    with (
        zipfile.ZipFile(unfinished, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as out,
        _connection(engine) as connection,
    ):
        os.chmod(unfinished, 0o600)
        connection.execute("set transaction isolation level repeatable read read only")
        tables = {}
        for table in _tables():
            with out.open(f"tables/{table.name}", "w", force_zip64=True) as entry:
                tables[table.name] = _summed(_rows(connection, table), entry)
        files = {}
        named = _named(connection)
        for path in _files(folder):
            if path.name not in named:
                continue  # what was erased, or is no row's any more, is in no backup
            name = path.relative_to(folder).as_posix()
            with out.open(f"files/{name}", "w", force_zip64=True) as entry:
                files[name] = _bytes_summed(path, entry)
        manifest = Manifest(_revision(connection), tables, files)
        out.writestr(_MANIFEST, json.dumps(asdict(manifest), indent=1, sort_keys=True))
    unfinished.replace(target)
    return manifest.told()


def restore(engine: Engine, folder: Path, source: Path) -> str:
    """Bring everything back from a file, and hold it against the file's checksums.

    Raises:
        NotEmpty: something is here already.
        NotEqual: the file is damaged, or of another version of Crumb.
    """
    with zipfile.ZipFile(source) as kept, _connection(engine) as connection:
        manifest = _manifest(kept)
        _same_revision(connection, manifest)
        filled = [t.name for t in _tables() if _count(connection, t.name)]
        if filled or any(_files(folder)):
            raise NotEmpty(f"{NotEmpty.__doc__} Filled: {', '.join(filled) or folder}.")
        for table in _tables():
            statement = sql.SQL("copy {} ({}) from stdin").format(
                sql.Identifier(table.name), _columns(table)
            )
            with (
                kept.open(f"tables/{table.name}") as entry,
                connection.cursor().copy(statement) as copy,
            ):
                while block := entry.read(_BLOCK):
                    copy.write(block)
        for name in manifest.files:
            path = _inside(folder, name)
            path.parent.mkdir(parents=True, exist_ok=True)
            with kept.open(f"files/{name}") as entry, path.open("wb") as out:
                while block := entry.read(_BLOCK):
                    out.write(block)
        _prove(connection, folder, manifest)
        connection.commit()
    return manifest.told()


def verify(engine: Engine, folder: Path, source: Path) -> str:
    """Hold what is here against a backup.

    Raises:
        NotEqual: something differs; says what.
    """
    with zipfile.ZipFile(source) as kept, _connection(engine) as connection:
        manifest = _manifest(kept)
        _same_revision(connection, manifest)
        _prove(connection, folder, manifest)
    return manifest.told()


def _prove(connection: Connection[Any], folder: Path, manifest: Manifest) -> None:
    wrong = [
        table.name
        for table in _tables()
        if _summed(_rows(connection, table)) != manifest.tables.get(table.name)
    ]
    for name, proof in manifest.files.items():
        path = _inside(folder, name)
        if not path.is_file() or _bytes_summed(path) != proof:
            wrong.append(f"file {name}")
    if wrong:
        raise NotEqual(f"{NotEqual.__doc__} Different: {', '.join(wrong[:20])}.")


def _connection(engine: Engine) -> Connection[Any]:
    url = engine.url.set(drivername="postgresql").render_as_string(hide_password=False)
    return Connection.connect(url)


def _tables() -> list[Table]:
    """Every table, those first that others point at."""
    return [t for t in Base.metadata.sorted_tables if t.name not in _LEFT_OUT]


def _columns(table: Table) -> sql.Composed:
    """By name: a database that was migrated has them in another order than a new one."""
    return sql.SQL(", ").join(sql.Identifier(c.name) for c in table.columns)


def _rows(connection: Connection[Any], table: Table) -> Iterator[bytes]:
    keys = sql.SQL(", ").join(sql.Identifier(c.name) for c in table.primary_key.columns)
    statement = sql.SQL("copy (select {} from {} order by {}) to stdout").format(
        _columns(table), sql.Identifier(table.name), keys
    )
    with connection.cursor().copy(statement) as copy:
        for row in copy:
            yield bytes(row)


def _summed(rows: Iterator[bytes], out: Any = None) -> Proof:  # noqa: ANN401 - any open file
    digest, count = sha256(), 0
    for row in rows:
        digest.update(row)
        count += row.count(b"\n")
        if out is not None:
            out.write(row)
    return Proof(digest.hexdigest(), count)


def _bytes_summed(path: Path, out: Any = None) -> Proof:  # noqa: ANN401 - any open file
    digest, count = sha256(), 0
    with path.open("rb") as entry:
        while block := entry.read(_BLOCK):
            digest.update(block)
            count += len(block)
            if out is not None:
                out.write(block)
    return Proof(digest.hexdigest(), count)


_NAMED = """
select file_key from piece union select file_key from job union select sound from take
"""


def _named(connection: Connection[Any]) -> set[str]:
    """The keys that any row names."""
    return {key for (key,) in connection.execute(_NAMED)}


def _files(folder: Path) -> Iterator[Path]:
    if folder.exists():
        yield from sorted(p for p in folder.rglob("*") if p.is_file() and p.suffix != ".part")


def _inside(folder: Path, name: str) -> Path:
    path = (folder / name).resolve()
    if not path.is_relative_to(folder.resolve()):
        raise NotEqual(f"{NotEqual.__doc__} A file would lie outside its folder.")
    return path


def _manifest(kept: zipfile.ZipFile) -> Manifest:
    told = json.loads(kept.read(_MANIFEST))
    return Manifest(
        told["revision"],
        {name: Proof(**proof) for name, proof in told["tables"].items()},
        {name: Proof(**proof) for name, proof in told["files"].items()},
    )


def _revision(connection: Connection[Any]) -> str:
    row = connection.execute("select version_num from alembic_version").fetchone()
    return str(row[0]) if row else ""


def _same_revision(connection: Connection[Any], manifest: Manifest) -> None:
    if _revision(connection) != manifest.revision:
        raise NotEqual(
            f"{NotEqual.__doc__} The backup was made at {manifest.revision}, the database stands at"
            f" {_revision(connection)}: bring the same version of Crumb, then upgrade."
        )


def _count(connection: Connection[Any], table: str) -> int:
    statement = sql.SQL("select 1 from {} limit 1").format(sql.Identifier(table))
    return len(connection.execute(statement).fetchall())
