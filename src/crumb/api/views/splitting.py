"""Chunk maps, as they go over the wire."""

from crumb.api.schemas.splitting import (
    EdgeOut,
    MapOut,
    OrderOut,
    SeamOut,
    TaggedOut,
    TagOut,
)
from crumb.api.views.places import chunk_out, position_out
from crumb.core.score.naming import span_label
from crumb.core.split.order import ordered
from crumb.core.split.proposals import seams
from crumb.core.survey.tags import TAGS
from crumb.services.library.pieces import PartInHand
from crumb.services.library.surveys import survey_of
from crumb.services.maps.chunks import MapView
from crumb.services.maps.tags import Tagged


def map_out(hand: PartInHand, view: MapView) -> MapOut:
    """A chunk map with its seams and its order worked out."""
    spans = [c.span for c in view.chunks]
    places = [c.id for c in view.chunks]
    by_hand = [places.index(i) for i in view.order.by_hand if i in places]
    order = ordered(hand.part, survey_of(hand), spans, view.order.kind, by_hand)
    return MapOut(
        version=view.version,
        edit=view.edit,
        can_undo=view.can_undo,
        can_redo=view.can_redo,
        chunks=[chunk_out(c) for c in view.chunks],
        levels=[[chunk_out(c) for c in level] for level in view.levels],
        edges=[
            EdgeOut(at=position_out(e.at), depth=e.depth, reasons=list(e.reasons))
            for e in view.edges
        ],
        seams=[
            SeamOut(
                label=span_label(hand.part, seam),
                start=position_out(seam.start),
                end=position_out(seam.end),
            )
            for seam in seams(hand.part, spans)
        ],
        order=OrderOut.model_validate(
            {
                "kind": view.order.kind,
                "chunk_ids": [places[i] for i in order.places],
                "why": order.why,
            }
        ),
        section_id=view.section_id,
    )


def tagged_out(one: Tagged) -> TaggedOut:
    """A chunk with its tags."""
    return TaggedOut(
        chunk_id=one.chunk.id,
        label=one.chunk.label,
        tags=[TagOut(tag=t, name=TAGS[t], by_hand=t in one.by_hand) for t in one.tags],
    )
