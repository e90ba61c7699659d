"""In which order chunks are learned, and why in that order."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from crumb.core.errors import ChunkEditRefused
from crumb.core.score.model import Part
from crumb.core.score.naming import span_label
from crumb.core.score.position import Span, absolute
from crumb.core.survey.model import Survey
from crumb.core.survey.objectives import foundation

ORDERS = ("hardest", "back", "front", "foundation", "hand")


@dataclass(frozen=True, slots=True)
class Ordered:
    """Places of the chunks in the order of learning, and the reason for that order."""

    places: tuple[int, ...]
    why: str


def span_load(part: Part, survey: Survey, span: Span) -> float:
    """Load of a chunk for each measure's length of it: how hard it is, not how long."""
    total = 0.0
    start, end = absolute(part, span.start), absolute(part, span.end)
    for measure in survey.measures[span.start.index : span.end.index + (span.end.at > 0)]:
        begin, held = part.starts[measure.index], part.measures[measure.index].length
        shared = min(end, begin + held) - max(start, begin)
        if held and shared > 0:
            total += measure.load * float(shared / held)
    nominal = part.measures[span.start.index].nominal
    return total / max(float((end - start) / nominal), 0.25)


def ordered(
    part: Part, survey: Survey, spans: Sequence[Span], kind: str, by_hand: Sequence[int] = ()
) -> Ordered:
    """Chunks in the order of a kind.

    Args:
        part: the part.
        survey: what it asks for.
        spans: the chunks, front to back.
        kind: one of ``ORDERS``.
        by_hand: places in the director's own order; what it does not name follows.

    Raises:
        ChunkEditRefused: there is no such order.
    """
    front = tuple(range(len(spans)))
    loads = [span_load(part, survey, span) for span in spans]
    hardest = sorted(front, key=lambda i: (-loads[i], i))
    match kind:
        case "front":
            return Ordered(front, "From the front, for players who like to start at the start.")
        case "back":
            why = "Back to front: the end is known best when it comes."
            if hardest and hardest[0] >= len(spans) * 3 // 4:
                why = "Back to front: the hardest chunk is near the end."
            return Ordered(front[::-1], why)
        case "hardest":
            if not hardest:
                return Ordered((), "")
            label = span_label(part, replace(spans[hardest[0]], landing=False))
            return Ordered(tuple(hardest), f"Hardest first: {label} asks most.")
        case "foundation":
            first = foundation(survey.measures, spans)
            rest = [i for i in hardest if i != first]
            if first is None:
                return Ordered(tuple(hardest), "Hardest first: no chunk covers the others.")
            label = span_label(part, replace(spans[first], landing=False))
            why = f"From {label}: what is learned there is asked for again and again."
            return Ordered((first, *rest), why)
        case "hand":
            named = tuple(dict.fromkeys(i for i in by_hand if i in front))
            rest_of = tuple(i for i in front if i not in named)
            return Ordered((*named, *rest_of), "In the order set by hand.")
    raise ChunkEditRefused(f"There is no order called {kind[:20]}.")
