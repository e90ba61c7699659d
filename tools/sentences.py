"""Print every sentence that the server may say: ``python tools/sentences.py [folder]``.

A sentence of the core stands beside the rule that says it; here all of them are read as one.
"""

import ast
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

from provision import ROOT

SOURCES = ROOT / "src" / "crumb"
_LEAST_WORDS = 3


class Sentence(NamedTuple):
    """Words of ours; what is put in stands in braces."""

    file: Path
    line: int
    text: str


def sentences(folder: Path) -> Iterator[Sentence]:
    """Strings of at least three words under a folder: no docstrings, no SQL, no patterns."""
    for file in sorted(folder.rglob("*.py")):
        tree = ast.parse(file.read_text())
        inner = _docstrings(tree) | _inside_others(tree)
        for node in ast.walk(tree):
            text = _text_of(node)
            if text and id(node) not in inner and _is_prose(text):
                yield Sentence(file, getattr(node, "lineno", 0), text)


def _docstrings(tree: ast.Module) -> set[int]:
    return {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}


def _inside_others(tree: ast.Module) -> set[int]:
    joined = (node for node in ast.walk(tree) if isinstance(node, ast.JoinedStr))
    return {id(value) for node in joined for value in node.values}


def _text_of(node: ast.AST) -> str:
    match node:
        case ast.Constant(value=str(text)):
            return text
        case ast.JoinedStr(values=values):
            return "".join(map(_piece, values))
        case _:
            return ""


def _piece(value: ast.expr) -> str:
    match value:
        case ast.Constant(value=text):
            return str(text)
        case ast.FormattedValue(value=inner):
            return f"{{{ast.unparse(inner)}}}"
        case _:
            return ""


def _is_prose(text: str) -> bool:
    """Whether it is words: no pattern, no statement, no table of names."""
    words = text.split()
    return len(words) >= _LEAST_WORDS and not set(text) & set("\n\\|^$") and "select" not in words


def main(arguments: list[str]) -> int:
    """Print them by file, each with its line."""
    folder = SOURCES / arguments[0] if arguments else SOURCES
    sys.stdout.reconfigure(errors="replace")  # type: ignore[union-attr]
    last = None
    for file, line, text in sentences(folder):
        if file != last:
            sys.stdout.write(f"\n{file.relative_to(SOURCES)}\n")
            last = file
        sys.stdout.write(f"{line:5}  {text}\n")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
