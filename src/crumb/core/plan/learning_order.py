"""In which order chunks are learned."""

from crumb.core.plan.model import Order, PlanAsk


def in_order(ask: PlanAsk) -> list[str]:
    """Ids in the order that chunks are met in and ties are decided by."""
    chunks = list(ask.chunks)
    if ask.order is Order.BACK:
        chunks.reverse()
    elif ask.order is Order.HARDEST:
        chunks.sort(key=lambda c: -c.load)
    elif ask.order is Order.FOUNDATION:
        # What most others share comes first: learned once, it lends itself to its kin.
        chunks.sort(key=lambda c: (-len(c.kin), c.load))
    elif ask.order is Order.HAND and ask.by_hand:
        place = {id_: n for n, id_ in enumerate(ask.by_hand)}
        chunks.sort(key=lambda c: place.get(c.id, len(place)))
    return [c.id for c in chunks]
