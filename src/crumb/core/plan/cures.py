"""Cures: a fault as it sounds, its likely cause, and the drills for it, best first.

Rows are common practice, no source. Where a cure has failed for a week, another school is next.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from crumb.core.drill_names import DrillName
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
        (DrillName.EVERY_NOTE, DrillName.STANDARD_SET, DrillName.EACH_NOTE, DrillName.BLOCKS),
        (("uneven",), ("behind",), ("together",), ("coordination",)),
    ),
    Cure(
        "accidental",
        "A wrong accidental",
        "reading",
        (DrillName.NAME_IT, DrillName.TWO_NOTES, DrillName.CUE_WORD),
        (("accidental",), ("sharp",), ("flat", "wrong"), ("wrong", "note")),
        "Write a warning on the note.",
    ),
    Cure(
        "rhythm",
        "A wrong rhythm, or a rest cut short",
        "counting",
        (DrillName.COUNT_IT, DrillName.SUBDIVISION_CLICK, DrillName.LEAN),
        (("rhythm",), ("rest", "short"), ("counting",)),
    ),
    Cure(
        "missed",
        "Wrong notes, or notes that do not speak",
        "the note was not heard before it was played",
        (DrillName.SING_AND_FINGER, DrillName.TWO_NOTES, DrillName.HOLD_ARRIVAL),
        (("missed", "note"), ("wrong", "notes"), ("crack",), ("split", "note")),
        "Sing or hum it first; on brass, buzz the note before it comes.",
    ),
    Cure(
        "tune",
        "Out of tune",
        "the pitch is not heard beforehand",
        (DrillName.PITCHES_ONLY, DrillName.HOLD_ARRIVAL, DrillName.SING_AND_FINGER),
        (("tune",), ("intonation",), ("pitch",)),
        "Each long note against a drone of the key note, until the beating stops.",
    ),
    Cure(
        "tone",
        "A thin, rough or forced tone",
        "air or bow",
        (DrillName.PITCHES_ONLY, DrillName.SLOW_DIRECTION, DrillName.OCTAVE),
        (("tone",), ("airy",), ("thin",), ("forced",), ("scratch",)),
        "Long tones on its notes first: steady air or a steady bow, then the passage.",
    ),
    Cure(
        "tension",
        "Tense hands, jaw, shoulders or breath",
        "effort where none is needed",
        (DrillName.REST_GAP, DrillName.QUICK_RELEASE, DrillName.SLOW_DIRECTION),
        (("tens",), ("stiff",), ("tight",), ("grip",)),
        "Slower and softer, with a breath before each try. Pain is a reason to stop, and to ask a "
        "teacher or a doctor.",
    ),
    Cure(
        "leap",
        "A shift, slide or leap that misses",
        "distance",
        (DrillName.HOLD_ARRIVAL, DrillName.HAND_ORDER, DrillName.BACKWARD, DrillName.TWO_NOTES),
        (("shift",), ("leap",), ("slide",), ("partial",)),
    ),
    Cure(
        "double-stop",
        "Two notes at once that do not agree",
        "two lines at once",
        (DrillName.VOICES_APART, DrillName.PITCHES_ONLY),
        (("double",), ("chord",)),
    ),
    Cure(
        "seam",
        "It stumbles between chunks",
        "the seam",
        (DrillName.SEAMS, DrillName.BACKWARD, DrillName.CLOSE_GAPS),
        (("seam",), ("between",), ("join",)),
    ),
    Cure(
        "end",
        "It breaks down at the end",
        "attention spent at the start",
        (DrillName.BACKWARD, DrillName.CUMULATIVE),
        (("breaks", "end"), ("end", "down"), ("ending",)),
    ),
    Cure(
        "slow",
        "It cannot reach tempo",
        "the speed was never felt",
        (DrillName.STOPS, DrillName.ADD_A_NOTE, DrillName.STANDARD_SET, DrillName.LOOK_AHEAD),
        (("reach", "tempo"), ("too", "slow"), ("stalled",), ("stuck",)),
    ),
    Cure(
        "falls-apart",
        "It falls apart when the tempo is raised",
        "raised too early",
        (DrillName.ALONE, DrillName.CUMULATIVE, DrillName.EVERY_NOTE),
        (("falls", "apart"), ("raising",)),
        "Ten to fifteen beats slower, and smaller steps.",
    ),
    Cure(
        "pulse",
        "It rushes or drags",
        "pulse",
        (DrillName.OFF_BEAT_CLICK, DrillName.FIRST_BEAT_CLICK, DrillName.SUBDIVISION_CLICK),
        (("rush",), ("drag",), ("pulse",)),
    ),
    Cure(
        "middle-drags",
        "A slow middle section drags or hangs",
        "its tempo is taken from itself",
        (DrillName.FIRST_BEAT_CLICK, DrillName.IN_CONTEXT),
        (("middle", "drag"), ("middle", "slow")),
        "Take the tempo of the fast section first, then keep it.",
    ),
    Cure(
        "off-beat-bass",
        "Off-beats that slip onto the beat",
        "the beat itself is nowhere in the hand",
        (DrillName.OFF_BEAT_CLICK, DrillName.BEAT_WEIGHT, DrillName.COUNT_IT),
        (("off-beat",), ("offbeat",), ("off", "beat")),
        "The click goes to the finger or stick that plays the beat.",
    ),
    Cure(
        "dynamics",
        "A change of loud and soft that comes late or tense",
        "no time to set up",
        (DrillName.REST_GAP, DrillName.ONE_LAYER),
        (("loud",), ("soft",), ("dynamic",), ("change", "late")),
    ),
    Cure(
        "locked",
        "A brittle or locked tongue",
        "too short, tense",
        (DrillName.LONG_BEFORE_FAST, DrillName.ARTICULATION, DrillName.QUICK_RELEASE),
        (("tongue",), ("locked",), ("brittle",)),
    ),
    Cure(
        "accents",
        "Accents everywhere",
        "mechanical playing",
        (DrillName.LEAN, DrillName.SLOW_DIRECTION, DrillName.BEAT_WEIGHT),
        (("accent",), ("mechanical",)),
    ),
    Cure(
        "stops",
        "It stops and starts again",
        "habit",
        (DrillName.RUN_THROUGH, DrillName.STOP_AND_START),
        ((DrillName.STOPS,), ("restart",)),
    ),
    Cure(
        "stale",
        "The same mistake for a week",
        "a recipe gone stale",
        (DrillName.STOPS, DrillName.OCTAVE, DrillName.TWO_WAYS, DrillName.BLOCKS),
        (("same", "mistake"), ("week",)),
        "Try another way of drilling it, or a smaller block; ask the director.",
    ),
    Cure(
        "bow",
        "Out of bow",
        "shares of the bow",
        (DrillName.BOW_PLAN, DrillName.ONE_LAYER, DrillName.SLOW_DIRECTION),
        (("bow",),),
    ),
    Cure(
        "nerves",
        "Nerves",
        "nothing to hold on to but the hands",
        (DrillName.NAME_IT, DrillName.COUNT_IT, DrillName.RUN_THROUGH),
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
