"""Keys as they sound and as each player reads them."""

from crumb.core.score.model import Part

_MAJOR = ["C♭", "G♭", "D♭", "A♭", "E♭", "B♭", "F", "C", "G", "D", "A", "E", "B", "F♯", "C♯"]
_MINOR = ["A♭", "E♭", "B♭", "F", "C", "G", "D", "A", "E", "B", "F♯", "C♯", "G♯", "D♯", "A♯"]
_NONE = 7


def key_name(fifths: int, mode: str | None = None) -> str:
    """``B♭``, or ``G minor``: the key of a signature, or its like within seven sharps or flats."""
    here = _within(fifths) + _NONE
    return f"{_MINOR[here]} minor" if mode == "minor" else _MAJOR[here]


def keys_at(part: Part, index: int) -> tuple[str, str]:
    """The key of a measure as it sounds, and as it is written for the player."""
    key = part.measures[index].key
    transposition = part.transposition_at(part.measures[index])
    # Each half step is seven fifths; of the ways round the circle the shorter one.
    shift = (transposition.chromatic * 7 + 6) % 12 - 6
    return key_name(key.fifths + shift, key.mode), key_name(key.fifths, key.mode)


def _within(fifths: int) -> int:
    if -_NONE <= fifths <= _NONE:
        return fifths
    return fifths - 12 if fifths > 0 else fifths + 12
