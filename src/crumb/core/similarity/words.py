"""A kin link said aloud: what is alike, how far apart, and what differs."""

from collections.abc import Sequence
from fractions import Fraction

from crumb.core.similarity.model import Difference, Relation

_SAID = 3  # differences named before "and more"
_STEPS = (
    *("at the same pitch", "a half step", "a whole step", "a minor third", "a major third"),
    *("a fourth", "a tritone", "a fifth", "a minor sixth", "a major sixth"),
    *("a minor seventh", "a major seventh"),
)


def kin_said(
    relation: Relation,
    interval: int,
    scale: Fraction,
    differs: Sequence[Difference],
    *,
    steps: int = 0,
    later: Fraction = Fraction(0),
) -> str:
    """How the later stretch is to the earlier, in a few words; see :class:`Kin`."""
    at = f", {interval_said(interval)}" if interval else ""
    match relation:
        case Relation.IDENTICAL:
            return "the same notes"
        case Relation.TRANSPOSED:
            return f"the same{at}"
        case Relation.SEQUENCE:
            return f"the same figure {letters_said(steps)}, inside the key"
        case Relation.SHIFTED:
            when = "later" if later > 0 else "earlier"
            return f"the same figure {quarters_said(abs(later))} {when} in the measure{at}"
        case Relation.AUGMENTED:
            pace = f"{scale} times as slow" if scale > 1 else f"{1 / scale} times as fast"
            return f"the same notes {pace}{at}"
        case Relation.NEAR:
            shown = "; ".join(_difference(d) for d in differs[:_SAID])
            more = f" and {len(differs) - _SAID} more" if len(differs) > _SAID else ""
            return f"alike{at}, but for {shown}{more}"
    return "the same rhythm"


def _difference(found: Difference) -> str:
    if found.a is None:
        return f"{found.b} besides"
    if found.b is None:
        return f"{found.a} missing"
    return f"{found.b} in place of {found.a}"


def interval_said(half_steps: int) -> str:
    """Half steps as an interval: ``a whole step higher``, ``an octave and a third lower``."""
    return _said(_STEPS, half_steps)


_LETTERS = ("at the same pitch", "a step", "a third", "a fourth", "a fifth", "a sixth", "a seventh")


def letters_said(letters: int) -> str:
    """Letters as steps of the scale: ``a step higher``, ``an octave and a third lower``."""
    return _said(_LETTERS, letters)


def _said(names: Sequence[str], way: int) -> str:
    """So many of the named steps up or down; as many as there are names make an octave."""
    if way == 0:
        return names[0]
    octaves, rest = divmod(abs(way), len(names))
    count = "an octave" if octaves == 1 else f"{octaves} octaves"
    name = names[rest] if not octaves else count if not rest else f"{count} and {names[rest]}"
    return f"{name} {'higher' if way > 0 else 'lower'}"


def quarters_said(length: Fraction) -> str:
    """A length as people say it: ``a quarter note``, ``3/2 quarter notes``."""
    return "a quarter note" if length == 1 else f"{length} quarter notes"
