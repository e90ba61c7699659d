"""The warm-up: the place that needs most of the coming week's techniques."""

from collections import Counter
from collections.abc import Sequence

from sqlalchemy.orm import Session

from crumb.core.plan.model import WHOLE
from crumb.core.plan.model import Session as Sitting
from crumb.core.score.position import Span
from crumb.core.survey.tags import TAGS
from crumb.services.maps.tags import tagged
from crumb.services.planning.planner_inputs import Music

_MOST_NAMED = 3


def warm_up_of(session: Session, music: Music, sittings: Sequence[Sitting]) -> tuple[Span, str]:
    """A chunk that is worked on in these sittings, and in words what it warms up for.

    The techniques of each chunk weigh as many minutes as it has. Where no technique is known, the
    first chunk that is worked on.
    """
    minutes: Counter[str] = Counter()
    for sitting in sittings:
        for item in sitting.items:
            if item.chunks != (WHOLE,):
                minutes[item.chunks[0]] += item.minutes
    chunks = [music.chunk(name) for name in minutes] or list(music.chunks[:1])
    asked: Counter[str] = Counter()
    found = tagged(session, music.hand, chunks)
    for one in found:
        asked.update({tag: minutes[str(one.chunk.id)] for tag in one.tags})
    best = max(found, key=lambda one: sum(asked[tag] for tag in one.tags))
    names = [TAGS[tag] for tag, _ in asked.most_common() if tag in best.tags][:_MOST_NAMED]
    if not names:
        return chunks[0].span, "On the notes of what comes first today."
    said = ", ".join(name[0].lower() + name[1:] for name in names)
    return best.chunk.span, f"For what the coming days ask for: {said}."
