"""Every error the core raises on purpose.

CrumbError
├── UnreadableFile        the file cannot be used; says what and where
├── BadAddress            words or numbers that name no place in the part
├── EmptySpan             a span without a note to play
├── ChunkEditRefused      an edit that would break the chunk map
├── UnknownDrill          no drill of that name
├── BadSetting            a drill parameter outside what it allows
├── DrillDoesNotFit       the span lacks what the drill works on
├── BadRecipe             a recipe of drills that cannot be used
├── BadTempo              tempos that make no ladder
├── NotForInstrument     music that an instrument cannot play
├── NotNotatable          a duration no notation here can write exactly
├── NoNotation            a part without notes was asked for them
├── TooMuch               it asks for more time or memory than there is for it
└── TooBusy               everybody who could do it is busy; later it can be done

The docstring is the default message. A musician reads these, so they are sentences.
"""


class CrumbError(Exception):
    """Something went wrong."""

    def __init__(self, message: str | None = None, **facts: object) -> None:
        self.message = message or (type(self).__doc__ or "").strip()
        self.facts = facts
        super().__init__(self.message)


class UnreadableFile(CrumbError):
    """This file cannot be read as music."""


class BadAddress(CrumbError):
    """There is no such place in this part."""


class EmptySpan(CrumbError):
    """There is no note to play in this span."""


class ChunkEditRefused(CrumbError):
    """The chunks cannot be changed that way."""


class UnknownDrill(CrumbError):
    """There is no drill of that name."""


class BadSetting(CrumbError):
    """That value is outside what the drill allows."""


class DrillDoesNotFit(CrumbError):
    """This chunk does not have what the drill works on."""


class BadRecipe(CrumbError):
    """This recipe cannot be used."""


class BadTempo(CrumbError):
    """These tempos make no ladder."""


class NotForInstrument(CrumbError):
    """This music is not for that instrument."""


class NotNotatable(CrumbError):
    """This duration cannot be written exactly."""


class NoNotation(CrumbError):
    """This part has no notes here: play it from the printed page."""


class RehearsalRefused(CrumbError):
    """A rehearsal of minutes that nobody has."""


class HearingRefused(CrumbError):
    """A verdict that cannot stand."""


class TakeRefused(CrumbError):
    """This cannot be said of a take."""


class TooMuch(CrumbError):
    """This takes more time or memory than there is for it."""


class TooBusy(CrumbError):
    """Crumb is very busy just now; try again in a moment."""
