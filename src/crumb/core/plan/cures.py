"""What was heard, what it likely is, and which drills mend it: first ones first.

Rows are common practice, no source. Where a cure has failed for a week, another school is next.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from crumb.core.names import name_key


@dataclass(frozen=True, slots=True)
class Cure:
    """A symptom: ``heard`` in a director's words, ``likely`` cause, ``drills`` best first.

    ``words`` are what a free text must all hold, one list for each way of saying it; ``advice`` is
    what no drill can do.
    """

    key: str
    heard: str
    likely: str
    drills: tuple[str, ...]
    words: tuple[tuple[str, ...], ...] = ()
    advice: str = ""


CURES: tuple[Cure, ...] = (
    Cure(
        "uneven",
        "Fingers and tongue or bow not together, runs uneven",
        "coordination",
        ("every-note", "standard-set", "each-note", "blocks"),
        (("uneven",), ("behind",), ("together",), ("coordination",)),
    ),
    Cure(
        "accidental",
        "A wrong accidental",
        "reading",
        ("name-it", "two-notes", "cue-word"),
        (("accidental",), ("sharp",), ("flat", "wrong"), ("wrong", "note")),
        "Write a warning on the note.",
    ),
    Cure(
        "rhythm",
        "A wrong rhythm, or a rest cut short",
        "counting",
        ("count-it", "subdivision-click", "lean"),
        (("rhythm",), ("rest", "short"), ("counting",)),
    ),
    Cure(
        "leap",
        "A shift, slide or leap that misses",
        "distance",
        ("hold-arrival", "hand-order", "backward", "two-notes"),
        (("shift",), ("leap",), ("slide",), ("partial",)),
    ),
    Cure(
        "double-stop",
        "Two notes at once that do not agree",
        "two lines at once",
        ("voices-apart", "pitches-only"),
        (("double",), ("chord",)),
    ),
    Cure(
        "seam",
        "It stumbles between chunks",
        "the seam",
        ("seams", "backward", "close-gaps"),
        (("seam",), ("between",), ("join",)),
    ),
    Cure(
        "end",
        "It breaks down at the end",
        "attention spent at the start",
        ("backward", "cumulative"),
        (("breaks", "end"), ("end", "down"), ("ending",)),
    ),
    Cure(
        "slow",
        "It cannot reach tempo",
        "the speed was never felt",
        ("stops", "add-a-note", "standard-set", "look-ahead"),
        (("reach", "tempo"), ("too", "slow"), ("stalled",), ("stuck",)),
    ),
    Cure(
        "falls-apart",
        "It falls apart when the tempo is raised",
        "raised too early",
        ("alone", "cumulative", "every-note"),
        (("falls", "apart"), ("raising",)),
        "Ten to fifteen beats slower, and smaller steps.",
    ),
    Cure(
        "pulse",
        "It rushes or drags",
        "pulse",
        ("off-beat-click", "first-beat-click", "subdivision-click"),
        (("rush",), ("drag",), ("pulse",)),
    ),
    Cure(
        "middle-drags",
        "A slow middle section drags or hangs",
        "its tempo is taken from itself",
        ("first-beat-click", "in-context"),
        (("middle", "drag"), ("middle", "slow")),
        "Take the tempo of the fast section first, then keep it.",
    ),
    Cure(
        "off-beat-bass",
        "Off-beats that slip onto the beat",
        "the beat itself is nowhere in the hand",
        ("off-beat-click", "beat-weight", "count-it"),
        (("off-beat",), ("offbeat",), ("off", "beat")),
        "The click goes to the finger or stick that plays the beat.",
    ),
    Cure(
        "dynamics",
        "A change of loud and soft that comes late or tense",
        "no time to set up",
        ("rest-gap", "one-layer"),
        (("loud",), ("soft",), ("dynamic",), ("change", "late")),
    ),
    Cure(
        "locked",
        "A brittle or locked tongue",
        "too short, tense",
        ("long-before-fast", "articulation", "quick-release"),
        (("tongue",), ("locked",), ("brittle",)),
    ),
    Cure(
        "accents",
        "Accents everywhere",
        "mechanical playing",
        ("lean", "slow-direction", "beat-weight"),
        (("accent",), ("mechanical",)),
    ),
    Cure(
        "stops",
        "It stops and starts again",
        "habit",
        ("run-through", "stop-and-start"),
        (("stops",), ("restart",)),
    ),
    Cure(
        "stale",
        "The same mistake for a week",
        "a recipe gone stale",
        ("stops", "octave", "two-ways", "blocks"),
        (("same", "mistake"), ("week",)),
        "Try another school, or a smaller block; ask the director.",
    ),
    Cure(
        "bow",
        "Out of bow",
        "shares of the bow",
        ("bow-plan", "one-layer", "slow-direction"),
        (("bow",),),
    ),
    Cure(
        "nerves",
        "Nerves",
        "nothing to hold on to but the hands",
        ("name-it", "count-it", "run-through"),
        (("nerv",), ("memory",), ("stage",)),
        "Say names of notes and counts on some passes; play for somebody before the day.",
    ),
)
CURES_BY_KEY = {cure.key: cure for cure in CURES}


def cure_for(said: str) -> Cure | None:
    """The row that somebody's words mean: its key, or words that tell; None if none does."""
    if said in CURES_BY_KEY:
        return CURES_BY_KEY[said]
    text = name_key(said)
    fitting = [
        (len(words), cure)
        for cure in CURES
        for words in cure.words
        if all(word in text for word in words)
    ]
    return max(fitting, key=lambda pair: pair[0])[1] if fitting else None


def cures_for(said: Iterable[str]) -> list[Cure]:
    """The rows that some symptoms mean, each once; what is not known is passed over."""
    found = (cure_for(one) for one in said)
    return list(dict.fromkeys(cure for cure in found if cure is not None))
