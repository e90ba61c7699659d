"""The signs of ABC 2.1 (sections 4 and 6) and what they are called elsewhere."""

import re
from fractions import Fraction

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import Time

MOST_MEASURES, MOST_IN_MEASURE, MOST_NOTES = 3_000, 2_000, 60_000
FIELD = re.compile(r"^([A-Za-z+]):(.*)$")
LENGTH = r"(?P<num>\d{0,4})(?P<den>/{1,6}\d{0,4}|)"
TOKEN = re.compile(
    r"(?P<field>\[(?P<letter>[A-Za-z]):(?P<value>[^\]]*)\])"
    r"|(?P<bar>:*\|[\]|:]*(?:\s*\[?(?P<ending>[1-9][0-9,-]*))?|\[\||::+|\[(?P<alone>[1-9][0-9,-]*))"
    r"|(?P<tuplet>\((?P<p>[2-9])(?::(?P<q>\d?))?(?::(?P<r>\d{0,2}))?)"
    r"|(?P<grace>\{(?P<slash>/?)(?P<graces>[^}]*)\})"
    r"|(?P<sign>!(?P<mark>[^!\n]{1,20})!|\+(?P<old>[a-zA-Z.<>()0-9]{1,20})\+)"
    r'|(?P<quoted>"(?P<text>[^"]*)")'
    r"|(?P<chord>\[(?P<inside>[^\]|:]*)\]" + LENGTH.replace("num", "cnum").replace("den", "cden")
    + r")"
    r"|(?P<note>(?P<acc>\^\^|\^|__|_|=)?(?P<step>[A-Ga-gzxZX])(?P<oct>[,']*)" + LENGTH + r")"
    r"|(?P<broken><{1,3}|>{1,3})"
    r"|(?P<slur>[()])|(?P<tie>-)|(?P<short>[.~HLMOPSTuv])"
    r"|(?P<user>[H-Wh-w])|(?P<overlay>&)|(?P<nothing>[\s`*$\\y!\]+])"
)  # fmt: skip
INNER = re.compile(
    r"(?P<acc>\^\^|\^|__|_|=)?(?P<step>[A-Ga-gzx])(?P<oct>[,']*)" + LENGTH + r"(?P<tie>-?)"
)
SHORT = {
    ".": "staccato",
    "~": "roll",
    "H": "fermata",
    "L": "accent",
    "M": "lowermordent",
    "O": "coda",
    "P": "uppermordent",
    "S": "segno",
    "T": "trill",
    "u": "upbow",
    "v": "downbow",
}
ARTICULATIONS = {
    "staccato": "staccato", "accent": "accent", ">": "accent", "emphasis": "accent",
    "tenuto": "tenuto", "marcato": "strong-accent", "^": "strong-accent", "wedge": "staccatissimo",
    "breath": "breath-mark",
}  # fmt: skip
ORNAMENTS = {
    "trill": "trill-mark",
    "turn": "turn",
    "invertedturn": "inverted-turn",
    "roll": "turn",
    "mordent": "mordent",
    "lowermordent": "mordent",
    "uppermordent": "inverted-mordent",
    "pralltriller": "inverted-mordent",
}
TECHNICAL = {
    "upbow": "up-bow",
    "downbow": "down-bow",
    "open": "open-string",
    "snap": "snap-pizzicato",
}
DYNAMICS = frozenset(("pppp", "ppp", "pp", "p", "mp", "mf", "f", "ff", "fff", "ffff", "sfz", "fp"))
WEDGES = {
    "crescendo(": "crescendo",
    "<(": "crescendo",
    "diminuendo(": "diminuendo",
    ">(": "diminuendo",
    "crescendo)": "stop",
    "<)": "stop",
    "diminuendo)": "stop",
    ">)": "stop",
}
JUMPS = {"D.C.": "dacapo", "D.S.": "dalsegno", "fine": "fine", "dacapo": "dacapo"}


KINDS = frozenset(
    ("field", "bar", "tuplet", "grace", "sign", "quoted", "chord", "note", "broken", "slur", "tie",
     "short", "user", "overlay", "nothing")
)  # fmt: skip


def kind_of(found: re.Match[str]) -> str:
    """Which of ``KINDS`` a token is."""
    return next(kind for kind in KINDS if found[kind] is not None)


def uncommented(line: str) -> str:
    """A line without its comment; a per cent sign inside quotes is none."""
    outside = True
    for place, sign in enumerate(line):
        if sign == '"':
            outside = not outside
        elif sign == "%" and outside and (place == 0 or line[place - 1] != "\\"):
            return line[:place].rstrip("\\ ")
    return line.rstrip().removesuffix("\\")


def times(number: str, slashes: str) -> Fraction:
    """``3``, ``/``, ``//``, ``/4`` or ``3/2`` as a factor.

    Raises:
        UnreadableFile: a length of nothing.
    """
    top = int(number or 1)
    bottom = slashes.lstrip("/")
    under = int(bottom) if bottom else 2 ** slashes.count("/")
    if not top or not under:
        raise UnreadableFile(f"A length of {number}{slashes} makes no sense.")
    return Fraction(top, under)


def tuplet_of(found: re.Match[str], meter: Time | None) -> tuple[int, int, int]:
    """P notes in the time of q, for the next r notes (section 4.13)."""
    p = int(found["p"])
    is_compound = meter is not None and meter.unit == 8 and meter.numerator in (6, 9, 12)
    n = 3 if is_compound else 2
    usual = {2: 3, 3: 2, 4: 3, 5: n, 6: 2, 7: n, 8: 3, 9: n}[p]
    return p, int(found["q"] or usual) or usual, int(found["r"] or p) or p
