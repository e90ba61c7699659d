"""Marks of a tune: on a note, or standing by themselves."""

from dataclasses import replace

from crumb.core.score.model import Direction, Note
from crumb.formats.abc.tokens import ARTICULATIONS, DYNAMICS, JUMPS, ORNAMENTS, TECHNICAL, WEDGES
from crumb.formats.abc.tune import Tune
from crumb.formats.abc.voice import Voice


def marked(tune: Tune, voice: Voice, notes: list[Note]) -> list[Note]:
    """Graces before, and marks on, what is struck."""
    articulations, ornaments, technical = [], [], []
    is_held = False
    for mark in voice.marks:
        if mark in ARTICULATIONS:
            articulations.append(ARTICULATIONS[mark])
        elif mark in ORNAMENTS:
            ornaments.append(ORNAMENTS[mark])
        elif mark in TECHNICAL:
            technical.append((TECHNICAL[mark], ""))
        elif mark in ("0", "1", "2", "3", "4", "5"):
            technical.append(("fingering", mark))
        elif mark in ("fermata", "invertedfermata"):
            is_held = True
        else:
            stand_alone(tune, voice, mark)
    voice.marks = []
    head, *others = notes
    head = replace(
        head,
        articulations=tuple(articulations),
        ornaments=tuple(ornaments),
        technical=tuple(technical),
        fermata=is_held,
    )
    graces, voice.graces = voice.graces, []
    return [*graces, head, *others]


def stand_alone(tune: Tune, voice: Voice, mark: str) -> None:
    """A mark that stands by ittune."""
    if mark in DYNAMICS:
        voice.directions.append(Direction(voice.at, "dynamic", mark, above=False))
    elif mark in WEDGES:
        voice.directions.append(Direction(voice.at, "wedge", WEDGES[mark], above=False))
    elif mark in ("segno", "coda"):
        voice.directions.append(Direction(voice.at, mark, mark))
    elif mark in JUMPS:
        voice.directions.append(Direction(voice.at, "jump", JUMPS[mark]))
        voice.directions.append(Direction(voice.at, "words", mark))
    else:
        tune.not_kept(voice, f"a mark called {mark[:30]}")


def read_quoted(tune: Tune, voice: Voice, text: str) -> None:
    """Read an annotation; a chord symbol is not kept."""
    if text[:1] in ("^", "_", "<", ">", "@") and text[1:].strip():
        words = text[1:].strip()[:200]
        voice.directions.append(Direction(voice.at, "words", words, above=text[0] != "_"))
    elif text.strip():
        tune.not_kept(voice, "chord symbols")
