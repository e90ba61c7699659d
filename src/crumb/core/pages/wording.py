"""What the words of a page say of its measures: numbers, letters, rests, endings, meters."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace

from crumb.core.pages.model import PageMeasure, Word

_LETTER = re.compile(r"[A-Z]{1,2}")
_NUMBER = re.compile(r"[\[(]?(\d{1,4})[\])]?")
_ENDING = re.compile(r"(\d)\.?(?:[,–-] ?(\d)\.?)*")
_ABOVE = 7.0
"""Spaces over a staff within which a word belongs to it."""
_LARGEST_REST = 200
_UNITS = frozenset({"1", "2", "4", "8", "16"})


def with_words(
    measures: Sequence[PageMeasure], words: Sequence[Word], rests: Mapping[int, int]
) -> tuple[PageMeasure, ...]:
    """The measures of a page with what its words say of them.

    Args:
        measures: in order.
        words: of the page.
        rests: the measures in which nothing but a long rest stands, each with its middle column.
    """
    found = list(measures)
    taken: set[int] = set()
    for place, measure in enumerate(found):
        near = [(k, w) for k, w in enumerate(words) if k not in taken and _is_over(w, measure)]
        rest = _rest(measure, rests[place], [w for _, w in near]) if place in rests else 1
        is_first = place == 0 or found[place - 1].system != measure.system
        number = _number(measure, near, is_first=is_first)
        if number is not None:
            taken.add(number[0])
            measure = replace(measure, number=number[1])
        time = _meter(measure, words, is_first=is_first)
        found[place] = replace(measure, stands_for=rest, time=time or measure.time)
    return tuple(_with_endings(_with_letters(found, words), words))


def _space(measure: PageMeasure) -> float:
    return max((measure.last_line - measure.first_line) / 4, 1.0)


def _is_over(word: Word, measure: PageMeasure) -> bool:
    """Whether it stands over the staff of a measure, or just left of it."""
    space = _space(measure)
    area = word.area
    over = measure.first_line - _ABOVE * space <= area.top and area.bottom <= (
        measure.first_line + 1.2 * space
    )
    middle = (area.left + area.right) / 2
    reach = 4 * space
    return over and measure.area.left - reach <= middle < measure.area.right


def _rest(measure: PageMeasure, middle: int, words: Sequence[Word]) -> int:
    """How many measures a rest lasts: the number over its middle."""
    best: tuple[float, int] | None = None
    for word in words:
        said = _NUMBER.fullmatch(word.text)
        away = abs((word.area.left + word.area.right) / 2 - middle)
        if said and away < 2.5 * _space(measure):
            count = int(said[1])
            if 1 < count <= _LARGEST_REST and (best is None or away < best[0]):
                best = (away, count)
    return best[1] if best else 1


def _number(
    measure: PageMeasure, near: Sequence[tuple[int, Word]], *, is_first: bool
) -> tuple[int, int] | None:
    """The number at the left end of a measure: the place of its word, and the number.

    At the head of a line it may stand anywhere over the clef. Elsewhere it stands at the barline,
    and is more than a finger's number.
    """
    space = _space(measure)
    best: tuple[float, int, int] | None = None
    for key, word in near:
        said = _NUMBER.fullmatch(word.text)
        if not said or word.area.height > 3.2 * space:
            continue
        away = abs(word.area.left - measure.area.left)
        value = int(said[1])
        if is_first:
            fits = word.area.left - measure.area.left < 3.5 * space
        else:
            fits = away < 1.3 * space and value > 5
        if fits and (best is None or away < best[0]):
            best = (away, key, value)
    return (best[1], best[2]) if best else None


def _meter(measure: PageMeasure, words: Sequence[Word], *, is_first: bool) -> str:
    """Two numbers over each other at the head of a measure; at its end they warn of the next."""
    space = _space(measure)
    inside = [
        w
        for w in words
        if w.text.isascii()
        and w.text.isdigit()
        and len(w.text) <= 2
        and -space <= w.area.left - measure.area.left <= (14 if is_first else 4) * space
        and measure.first_line - space
        < (w.area.top + w.area.bottom) / 2
        < measure.last_line + space
    ]
    half = (measure.first_line + measure.last_line) / 2
    upper = [w for w in inside if (w.area.top + w.area.bottom) / 2 < half]
    lower = [w for w in inside if (w.area.top + w.area.bottom) / 2 >= half]
    for above in upper:
        for below in lower:
            beside = abs(
                (above.area.left + above.area.right) - (below.area.left + below.area.right)
            )
            if beside < 2.4 * space and below.text in _UNITS and 0 < int(above.text) <= 24:
                return f"{int(above.text)}/{int(below.text)}"
    return ""


def _with_letters(found: Sequence[PageMeasure], words: Sequence[Word]) -> list[PageMeasure]:
    """Rehearsal letters: one or two capitals near a barline, going on in the alphabet.

    Names of chords are capitals too, but they do not go on so.
    """
    heard: list[tuple[int, str]] = []
    for place, measure in enumerate(found):
        is_first = place == 0 or found[place - 1].system != measure.system
        space = _space(measure)
        for word in words:
            if not _LETTER.fullmatch(word.text) or not _is_over(word, measure):
                continue
            away = word.area.left - measure.area.left
            if -3 * space <= away <= (9 if is_first else 3) * space:
                heard.append((place, word.text))
    letters = dict(_alphabet(heard))
    return [
        replace(measure, letter=letters.get(place, measure.letter))
        for place, measure in enumerate(found)
    ]


def _alphabet(heard: Sequence[tuple[int, str]]) -> list[tuple[int, str]]:
    """The longest run of letters of which each comes one or two after the one before."""
    best: list[list[tuple[int, str]]] = []
    for at, (place, letter) in enumerate(heard):
        runs = [
            best[k]
            for k in range(at)
            if best[k][-1][0] < place and 0 < _rank(letter) - _rank(best[k][-1][1]) <= 2
        ]
        longest = max(runs, key=len, default=[])
        best.append([*longest, (place, letter)])
    return max(best, key=len, default=[])


def _rank(letter: str) -> int:
    if len(set(letter)) > 1:
        return -99  # AB is no letter of a rehearsal, AA is the 27th
    return ord(letter[0]) + 26 * (len(letter) - 1)


def _with_endings(found: Sequence[PageMeasure], words: Sequence[Word]) -> list[PageMeasure]:
    """Endings: a 1 before a repeat sign, and a 2 just after it."""
    made = list(found)
    for place, measure in enumerate(found):
        if not measure.closes_repeat or place + 1 >= len(found):
            continue
        second = _ending_at(found[place + 1], words)
        if second != "2":
            continue
        for back in range(place, max(place - 4, -1), -1):
            if _ending_at(found[back], words) == "1":
                made[back] = replace(made[back], ending="1", number=_plain(made[back], 1))
                after = made[place + 1]
                made[place + 1] = replace(after, ending="2", number=_plain(after, 2))
                break
    return made


def _plain(measure: PageMeasure, ending: int) -> int | None:
    return None if measure.number == ending else measure.number


def _ending_at(measure: PageMeasure, words: Sequence[Word]) -> str:
    space = _space(measure)
    for word in words:
        away = word.area.left - measure.area.left
        if (
            _ENDING.fullmatch(word.text)
            and _is_over(word, measure)
            and -space <= away <= min(4 * space, measure.area.width / 2)
            and word.area.bottom < measure.first_line
        ):
            return word.text[0]
    return ""
