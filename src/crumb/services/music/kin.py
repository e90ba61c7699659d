"""Kin of a part for the director: proposed, confirmed or refused; the difference as a chunk."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.errors import ChunkEditRefused
from crumb.core.score.model import ZERO
from crumb.core.score.naming import span_label
from crumb.core.score.position import Position, Span
from crumb.core.similarity.claims import Verdict, judged, read_claim
from crumb.core.similarity.model import Difference, Relation
from crumb.core.similarity.words import kin_said
from crumb.core.vocabulary import KinVerdict
from crumb.services.access import Actor
from crumb.services.errors import NotFound
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.edits import Change, chunk_of_difference
from crumb.store.queries import kin as ask
from crumb.store.tables import KinLink


@dataclass(frozen=True, slots=True)
class KinView:
    """A link with both ends said aloud."""

    link: KinLink
    a_label: str
    b_label: str
    a_part: str
    b_part: str
    text: str


def list_kin(session: Session, actor: Actor, part_id: UUID) -> list[KinView]:
    """Links with an end in this part, front to back; refused ones last."""
    hand = load_part(session, actor, part_id)
    links = ask.links_with(session, hand.row.piece_id, part_id)
    ids = {i for link in links for i in (link.a_part_id, link.b_part_id)}
    parts = {i: load_part(session, actor, i) for i in ids}
    links = sorted(links, key=lambda k: (k.verdict == KinVerdict.REFUSED, k.place))
    return [_view(link, parts) for link in links]


def _view(link: KinLink, parts: dict[UUID, PartInHand]) -> KinView:
    a, b = parts[link.a_part_id], parts[link.b_part_id]
    return KinView(
        link,
        _label(a, link.a_first, link.a_last),
        _label(b, link.b_first, link.b_last),
        a.row.name,
        b.row.name,
        kin_said(
            Relation(link.relation),
            link.interval,
            link.scale,
            _differs(link),
            steps=link.steps,
            later=link.later,
        ),
    )


def _differs(link: KinLink) -> list[Difference]:
    return [Difference(int(row["index"]), row["a"], row["b"]) for row in link.differs]


def _label(hand: PartInHand, first: int, last: int) -> str:
    ends = Position(first, ZERO), Position(last + 1, ZERO)
    return span_label(hand.part, Span(*ends))


def claim(session: Session, actor: Actor, part_id: UUID, text: str) -> Verdict:
    """Hold what somebody says against the notes; what is true is kept as a confirmed link.

    Raises:
        NotFound: not here.
        CrumbError: the words are no claim, or name no measures.
    """
    hand = load_part(session, actor, part_id)
    verdict = judged(hand.part, read_claim(hand.part, text))
    if verdict.holds:
        _keep(session, hand, verdict)
    return verdict


def _keep(session: Session, hand: PartInHand, verdict: Verdict) -> None:
    a, b = sorted((verdict.claim.a, verdict.claim.b), key=lambda s: s.first)
    way = 1 if a == verdict.claim.a else -1
    ends = {"a_first": a.first, "a_last": a.last, "b_first": b.first, "b_last": b.last}
    known = ask.link_inside(session, hand.row.id, ends)
    if known is not None and known.relation == verdict.relation:
        known.verdict = KinVerdict.CONFIRMED
    else:
        link = KinLink(
            id=uuid4(),
            piece_id=hand.row.piece_id,
            place=ask.last_place(session, hand.row.piece_id) + 1,
            a_part_id=hand.row.id,
            b_part_id=hand.row.id,
            relation=verdict.relation,
            interval=way * verdict.interval,
            steps=way * verdict.steps,
            scale=Fraction(1),
            differs=[],
            verdict=KinVerdict.CONFIRMED,
            is_claimed=True,
            **ends,
        )
        session.add(link)


def _link(session: Session, actor: Actor, kin_id: UUID) -> KinLink:
    link = ask.link_of(session, actor.program_id, kin_id)
    if link is None:
        raise NotFound("There is no such link.")
    return link


def judge(session: Session, actor: Actor, kin_id: UUID, verdict: str | None) -> KinLink:
    """Confirm or refuse a link, or leave it open again.

    Raises:
        NotFound: not of this program.
    """
    link = _link(session, actor, kin_id)
    link.verdict = verdict
    return link


def delta_of(session: Session, actor: Actor, kin_id: UUID) -> tuple[UUID, Change]:
    """The edit that makes a chunk of what differs, and the part it is for: the later twin's.

    Raises:
        ChunkEditRefused: nothing differs.
    """
    link = _link(session, actor, kin_id)
    if not link.differs:
        raise ChunkEditRefused("Nothing differs between these: there is no difference to drill.")
    hand = load_part(session, actor, link.b_part_id)
    places = _attack_places(hand, link.b_first, link.b_last)
    indexes = [min(d.index, len(places) - 1) for d in _differs(link)]
    return link.b_part_id, chunk_of_difference(places[min(indexes)], places[max(indexes)])


def _attack_places(hand: PartInHand, first: int, last: int) -> Sequence[Position]:
    return [
        Position(m.index, n.at)
        for m in hand.part.measures[first : last + 1]
        for n in sorted(m.notes, key=lambda n: n.at)
        if n.is_attack
    ]
