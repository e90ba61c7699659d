"""Read every MusicXML file of music21's corpus with both readers: ``tools/read_corpus.py``.

Compares with the committed table of disagreements and exits 1 if it is not true any more; with
``--write`` the table is written anew (reasons that were given stay).
"""

import json
import os
import sys
import warnings
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

ROOT = Path(__file__).parent.parent
sys.path[:0] = [str(ROOT)]


def _read(path: Path) -> tuple[str, dict[str, list[str]]]:
    from tests.formats.corpus_reading import disagreements
    from tests.formats.music21_reading import CORPUS

    warnings.simplefilter("ignore")
    return str(path.relative_to(CORPUS)), disagreements(path)


def main(arguments: list[str]) -> int:
    """Compare, or write."""
    from tests.formats.corpus_reading import TABLE, corpus_files

    known = json.loads(TABLE.read_text()) if TABLE.exists() else {}
    files = corpus_files()
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        found = {name: differs for name, differs in pool.map(_read, files, chunksize=4) if differs}
    sys.stdout.write(f"{len(files)} files, {len(files) - len(found)} read alike\n")
    if "--write" in arguments:
        table = {
            name: {"reason": known.get(name, {}).get("reason", ""), "differs": found[name]}
            for name in sorted(found)
        }
        TABLE.write_text(json.dumps(table, indent=1, ensure_ascii=False) + "\n")
        return 0
    expected = {name: entry["differs"] for name, entry in known.items()}
    for name in sorted({*found, *expected}):
        if found.get(name) != expected.get(name):
            sys.stdout.write(f"{name}: {found.get(name)} instead of {expected.get(name)}\n")
    return 0 if found == expected else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
