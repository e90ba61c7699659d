"""Answers as a person reads them."""

from collections.abc import Sequence

from crumb.cli.common import Row


def _cell(value: object) -> str:
    if isinstance(value, list):
        return (
            f"{len(value)} …"
            if value and isinstance(value[0], dict)
            else ", ".join(map(str, value))
        )
    if isinstance(value, dict):
        return " ".join(str(v) for v in value.values() if v is not None)
    return "" if value is None else str(value)


def _table(rows: Sequence[Row]) -> str:
    if not rows:
        return "Nothing."
    heads = [
        head for head in rows[0] if not isinstance(rows[0][head], dict) or head in ("start", "end")
    ]
    cells = [heads, *([_cell(row[head]) for head in heads] for row in rows)]
    widths = [min(max(len(row[i]) for row in cells), 40) for i in range(len(heads))]
    return "\n".join(
        "  ".join(cell[:40].ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip()
        for row in cells
    )


def readable(result: object) -> str:
    """An answer as a table, or a line for each of its facts."""
    if isinstance(result, list):
        return _table(result)
    if not isinstance(result, dict):
        return str(result)
    lines = []
    for name, value in result.items():
        if isinstance(value, list) and value and isinstance(value[0], dict):
            lines.append(_table(value))
        else:
            lines.append(f"{name}: {_cell(value)}")
    return "\n".join(lines)
