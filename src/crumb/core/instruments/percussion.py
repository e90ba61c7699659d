"""Percussion by name: the keys of the General MIDI percussion map (GM 1; from memory)."""

import re

_KEYS: tuple[tuple[str, int], ...] = (
    (r"bass drum|gran cassa|grosse trommel|\bb\. ?d\b|kick", 36),
    (r"side ?stick|rim", 37),
    (r"snare|side drum|kleine trommel|\bs\. ?d\b|tamburo|field drum|tenor drum", 38),
    (r"clap", 39),
    (r"floor tom", 43),
    (r"low tom|tom.?tom 3|tom 3", 45),
    (r"mid(?:dle)? tom|tom.?tom 2|tom 2", 47),
    (r"tom", 50),
    (r"open hi|hi.?hat.*open", 46),
    (r"pedal hi|hi.?hat.*(?:foot|pedal)", 44),
    (r"hi.?hat", 42),
    (r"ride", 51),
    (r"crash|sus(?:pended)?\.? cym|cymbal|becken|piatti", 49),
    (r"tambourine|tamburin|schellen", 54),
    (r"cow ?bell", 56),
    (r"bongo", 60),
    (r"conga", 63),
    (r"timbale", 65),
    (r"agogo", 67),
    (r"maraca|shaker", 70),
    (r"whistle", 71),
    (r"guiro", 73),
    (r"claves", 75),
    (r"wood ?block|temple ?block|holzblock", 76),
    (r"triangle|triangel|triangolo", 81),
)
UNNAMED = 76
"""A stroke whose instrument nobody names: the high wood block, which cuts through."""


def key_of(drum: str) -> int:
    """The key that sounds like an instrument called so."""
    name = drum.casefold()
    return next((key for pattern, key in _KEYS if re.search(pattern, name)), UNNAMED)
