"""Fingerings of woodwinds and valved brass, and how awkward it is to change between two.

The charts are the usual first-choice fingerings of school methods, from memory; alternates are left
to the player. Written pitch throughout, as MIDI numbers.
"""

from functools import lru_cache


def _octave(chart: dict[int, str], first: int, last: int, *, up: int, with_key: str) -> None:
    """Fingerings that come back higher up with one more key."""
    for pitch in range(first, last + 1):
        chart.setdefault(pitch + up, chart[pitch] + with_key)


def _saxophone() -> dict[int, str]:
    """Fingers 1-6; little-finger keys b B c C e g, side keys s t, octave key O, palm keys x y z."""
    low = ["123456b", "123456B", "123456c", "123456C", "123456", "123456e", "12345", "1234"]
    low += ["1235", "123", "123g", "12", "12s", "1", "2", ""]
    chart = {58 + i: keys for i, keys in enumerate(low)}
    _octave(chart, 62, 73, up=12, with_key="O")
    return chart | {86: "Ox", 87: "Oxy", 88: "Oxys", 89: "Oxysz"}


def _flute() -> dict[int, str]:
    """Thumb T, fingers 1-6, little fingers g (left) and e, foot keys c C."""
    low = ["T123456c", "T123456C", "T123456", "T123456e", "T12345e", "T1234e", "T1236e", "T123e"]
    low += ["T123ge", "T12e", "T14e", "T1e", "1e", "e"]
    chart = {60 + i: keys for i, keys in enumerate(low)}
    chart |= {74: "T23456", 75: "T23456e"}
    _octave(chart, 64, 73, up=12, with_key="")
    high = ["T23e", "T123g456e", "T1245e", "T134e", "T136e", "123e", "23ge", "T24e", "T4e", "T13e"]
    return chart | {86 + i: keys for i, keys in enumerate([*high, "123g4"])}


def _oboe() -> dict[int, str]:
    """Fingers 1-6 (h: half hole), keys b B c C e f g, octave keys O and P."""
    low = ["123456b", "123456B", "123456c", "123456C", "123456", "123456e", "12345", "1234f"]
    low += ["1234", "123", "123g", "12", "124", "1", "14"]
    chart = {58 + i: keys for i, keys in enumerate(low)}
    chart |= {73: "h23456C", 74: "h23456", 75: "h23456e"}
    _octave(chart, 64, 68, up=12, with_key="O")
    _octave(chart, 69, 72, up=12, with_key="P")
    return chart | {85: "h234C", 86: "h23cP", 87: "h2346eP", 88: "h235gP", 89: "h2345gP"}


def _clarinet() -> dict[int, str]:
    """Thumb T, register key R, fingers 1-6, little-finger keys E F f g c, throat keys G A, side s.

    The upper register is the lower one with the register key, a twelfth higher.
    """
    low = ["T123456E", "T123456F", "T123456f", "T123456", "T123456g", "T12345", "T1234", "T1235"]
    low += ["T123", "T123c", "T12", "T12s", "T1", "T", "1", "", "G", "A", "AR"]
    chart = {52 + i: keys for i, keys in enumerate(low)}
    _octave(chart, 52, 65, up=19, with_key="R")
    return chart | {85: "T23456R", 86: "T2345Re", 87: "T234Re", 88: "T234R", 89: "T234Rg"}


def _bassoon() -> dict[int, str]:
    """Fingers 1-6 (h: half hole), left thumb w W k (whisper), right thumb a B f, little F g."""
    low = ["123456FwWa", "123456FwW", "123456Fw", "123456FwC", "123456FW", "123456FWe", "123456FB"]
    low += ["123456Fk", "123456Ffk", "123456k", "123456gk", "12345k", "12345ak", "1234k", "123k"]
    low += ["123ck", "12k", "13k", "1k", "k"]
    chart = {34 + i: keys for i, keys in enumerate(low)}
    middle = ["h23456f", "h23456", "h23456g", "12345n", "12345an", "1234n", "123n", "123cn", "12n"]
    chart |= {54 + i: keys for i, keys in enumerate(middle)}
    return chart | {63: "13n6", 64: "13", 65: "1346", 66: "2345f", 67: "23456"}


# Half steps that valves lower by, first choices; open partials of a series whose second partial
# is 0 half steps (the seventh, flat, is not used).
_VALVES = {0: "", 1: "2", 2: "1", 3: "12", 4: "23", 5: "13", 6: "123"}
_PARTIALS = (0, 7, 12, 16, 19, 24, 28, 31)


def _valved(second_partial: int) -> tuple[dict[int, str], dict[int, int]]:
    """Valves and number of the partial for each pitch, from the lowest series that has it."""
    valves: dict[int, str] = {}
    partials: dict[int, int] = {}
    for place, height in enumerate(_PARTIALS):
        for drop, keys in _VALVES.items():
            pitch = second_partial + height - drop
            if pitch not in valves or len(keys) < len(valves[pitch]):
                valves[pitch], partials[pitch] = keys, place
    return valves, partials


_BRASS = {
    "trumpet": _valved(60),
    "horn": _valved(48),
    "euphonium": _valved(46),
    "tuba": _valved(34),
}
CHARTS: dict[str, dict[int, str]] = {
    "saxophone": _saxophone(),
    "flute": _flute(),
    "oboe": _oboe(),
    "clarinet": _clarinet(),
    "bassoon": _bassoon(),
    **{family: valves for family, (valves, _) in _BRASS.items()},
}
PARTIALS = {family: partials for family, (_, partials) in _BRASS.items()}

CLARINET_BREAK = 71
"""Written B4: from here up the register key is down."""
_LITTLE = frozenset("EFfgcCbBe")
_PALM = frozenset("xyz")


@lru_cache(maxsize=8192)
def change(family: str, one: int, two: int) -> tuple[float, str, str]:
    """How awkward it is to go from one written pitch to another.

    Returns:
        Cost (0: nothing moves against anything), kind and reason; kind is empty where the change
        is not worth a word.
    """
    chart = CHARTS[family]
    if one == two or one not in chart or two not in chart:
        return 0.0, "", ""
    before, after = set(chart[one]), set(chart[two])
    down, up = after - before, before - after
    moving = len(down) + len(up)
    against = min(len(down), len(up))
    cost = 0.08 * moving + 0.3 * against
    if family in PARTIALS:
        swapped = {chart[one], chart[two]} == {"13", "23"}
        awkward = "3" in down | up and against > 0 and (moving >= 3 or swapped)
        return _brass_change(family, one, two, cost, swapped or awkward)
    if family == "clarinet" and (one < CLARINET_BREAK) != (two < CLARINET_BREAK):
        throat = 67 <= min(one, two) < CLARINET_BREAK
        if one >= CLARINET_BREAK + 7 or two >= CLARINET_BREAK + 7:
            throat = False
        return cost + (1.2 if throat else 0.7), "break", "Crosses the break"
    little = (before & _LITTLE, after & _LITTLE)
    if all(little) and little[0] != little[1]:
        return cost + 0.8, "fingering", "Little finger to little finger: choose the sides first"
    if family == "saxophone" and (keys := (down | up) & _PALM):
        return cost + 0.2 * len(keys), "fingering", "Palm keys: the hand opens from above"
    if family in ("saxophone", "clarinet") and "s" in down | up and against:
        return cost + 0.3, "fingering", "Side key against a finger"
    if against >= 2 or (against == 1 and moving >= 4):
        return cost + 0.4, "fingering", "Fingers go up and down at once (cross-fingering)"
    return cost, "", ""


def _brass_change(
    family: str, one: int, two: int, cost: float, is_third: bool
) -> tuple[float, str, str]:
    partials = PARTIALS[family]
    crossed = abs(partials[one] - partials[two])
    # On the horn partials lie closer, and the same leap passes more of them.
    if crossed >= 2:
        return cost + 0.35 * crossed, "partial", f"Leap over {crossed} partials"
    if crossed == 1 and CHARTS[family][one] == CHARTS[family][two]:
        return cost + 0.25, "", ""
    if is_third:
        return cost + 0.5, "valves", "Third valve against another: an awkward change"
    return cost, "", ""
