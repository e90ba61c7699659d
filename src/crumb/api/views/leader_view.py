"""Answers about what a section shows the student who leads it."""

from collections.abc import Sequence

from crumb.api.schemas.leader_view import ChunkShownOut, LeadingOut, OwnSectionOut, PartShownOut
from crumb.services.wall.leader_view import OwnSection, PartShown


def leading_out(sections: Sequence[OwnSection], shown: Sequence[PartShown]) -> LeadingOut:
    """One's sections with their leaders, and what is shown to oneself."""
    return LeadingOut(
        sections=[
            OwnSectionOut(
                id=one.id,
                name=one.name,
                leaders=list(one.leaders),
                is_led=one.is_led,
                shows=one.shows,
            )
            for one in sections
        ],
        shown=[
            PartShownOut(
                section=one.section,
                title=one.title,
                part=one.part,
                of=one.of,
                chunks=[ChunkShownOut(label=c.label, have=c.have) for c in one.chunks],
            )
            for one in shown
        ],
    )
