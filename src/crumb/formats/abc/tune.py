"""A tune while it is read: what its header says, its voices, and what is not kept of it."""

from dataclasses import dataclass, field
from fractions import Fraction

from crumb.core.score.model import Time
from crumb.formats.abc.fields import KeyField, key_field
from crumb.formats.abc.voice import Voice


@dataclass(slots=True)
class Tune:
    """One tune."""

    titles: list[str] = field(default_factory=list)
    composer: str = ""
    meter: Time | None = field(default_factory=lambda: Time("4", 4))
    unit: Fraction | None = None
    key: KeyField = field(default_factory=lambda: key_field("C"))
    tempo_text: str = ""
    voices: dict[str, Voice] = field(default_factory=dict)
    holds: str = "pitch"
    """How far an accidental holds: ``pitch`` in every octave, ``octave`` in its own, ``not``."""
    struck: int = 0
    """Notes read so far."""
    unread: dict[str, dict[str, list[str]]] = field(default_factory=dict)

    def not_kept(self, voice: Voice, what: str) -> None:
        """Write down what the model has no place for, with the measure where it stands."""
        found = self.unread.setdefault(voice.id, {}).setdefault(what, [])
        found.append(str(len(voice.measures) + 1))
