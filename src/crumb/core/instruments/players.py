"""The section that plays a part, by their names (common practice, no source)."""

from crumb.core.instruments.names import desk_of
from crumb.core.instruments.table import instrument_named


def may_play(section: str, part: str, played_on: str) -> bool:
    """Whether a section plays a part: ``1st Violin`` is for the Violins I, or for all Violins.

    Args:
        section: its name; one whose instrument nobody knows plays nothing by itself.
        part: its name.
        played_on: the name of the part's instrument.
    """
    instrument = instrument_named(section)
    numbers = {desk_of(section), desk_of(part)} - {None}
    return len(numbers) < 2 and instrument.family != "other" and instrument.name == played_on
