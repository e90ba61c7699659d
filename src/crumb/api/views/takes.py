"""Takes, for the wire."""

from typing import Literal, cast

from crumb.api.schemas.takes import AnchorOut, TakeOut
from crumb.api.views.places import position_out
from crumb.services.ensemble.takes import anchors_of
from crumb.store.tables import Take


def take_out(take: Take, least: int) -> TakeOut:
    """A take; ``least`` is how many seconds it should have."""
    return TakeOut(
        id=take.id,
        part_id=take.part_id,
        chunk_id=take.chunk_id,
        state=cast(Literal["waiting", "ready", "failed"], take.state),
        message=take.message,
        seconds=None if take.seconds is None else float(take.seconds),
        is_short=take.seconds is not None and take.seconds < least,
        why_anew=take.why_anew,
        is_heard=take.hearing_id is not None,
        anchors=[
            AnchorOut(at=position_out(one.at), seconds=float(one.seconds))
            for one in anchors_of(take)
        ],
        recorded_at=take.recorded_at,
        handed_in_at=take.handed_in_at,
    )
