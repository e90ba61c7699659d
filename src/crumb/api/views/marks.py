"""Marks, as they go over the wire."""

from crumb.api.schemas.common import PositionOut
from crumb.api.schemas.marks import MarkOut
from crumb.core.score.marks import KINDS
from crumb.core.vocabulary import MarkLayer
from crumb.services.access import Actor
from crumb.store.tables import Mark


def mark_out(mark: Mark, actor: Actor) -> MarkOut:
    """A mark."""
    return MarkOut(
        id=mark.id,
        layer=MarkLayer(mark.layer),
        kind=mark.kind,
        name=KINDS[mark.kind],
        text=mark.text,
        at=PositionOut(index=mark.index, at=str(mark.at)),
        section_id=mark.section_id,
        is_mine=mark.author_id == actor.person_id,
    )
