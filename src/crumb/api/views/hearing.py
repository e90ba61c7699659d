"""Hearings, for the wire."""

from crumb.api.schemas.practice import LastHearingOut
from crumb.services.ensemble.hearing import LastHeard


def last_hearing_out(last: LastHeard | None) -> LastHearingOut | None:
    """What was judged last, if anything was."""
    if last is None:
        return None
    row = last.hearing
    return LastHearingOut(
        level=row.level,
        by=last.by,
        heard_at=row.heard_at,
        went_well=row.went_well,
        one_thing=row.one_thing,
        missing=row.missing,
    )
