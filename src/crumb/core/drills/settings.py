"""Settings that many drills share, and what is said about hands and lips."""

from crumb.core.drills.model import Parameter
from crumb.core.drills.passage import Passage
from crumb.core.errors import BadSetting

PROVING = Parameter("repetitions", "Clean in a row", 3, low=1, high=20)
LEARNING = Parameter(
    "learning_repetitions", "Times each to learn it", 4, low=1, high=20, by_level={"advanced": 2}
)
SETTING = Parameter(
    "set_repetitions", "In a row to set it", 5, low=1, high=20, by_level={"beginner": 3}
)
WARM_UP = (
    "Warm up before fast repetition. Pain, numbness or tingling: stop, rest, tell the teacher."
)
AUTO = "auto"


def note_number(passage: Passage, given: object, *, otherwise: int) -> int:
    """Which note of the chunk is meant, from 0; ``auto`` leaves it to the drill.

    Raises:
        BadSetting: no such note.
    """
    text = str(given)
    if text == AUTO:
        return otherwise
    if not text.isdecimal() or not 1 <= int(text) <= len(passage.attacks):
        raise BadSetting(
            f"Say auto, or which note of the chunk: 1 to {len(passage.attacks)}, not “{text[:20]}”."
        )
    return int(text) - 1
