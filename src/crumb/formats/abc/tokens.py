"""The signs of ABC 2.1 (sections 4 and 6) and what they are called elsewhere."""

import re

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
