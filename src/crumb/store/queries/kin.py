"""Queries of kin links: found, claimed, judged."""

from collections.abc import Mapping, Sequence
from uuid import UUID

from sqlalchemy import cast, column, func, insert, or_, select, update
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Session

from crumb.store.tables import KinLink, PiecePart


def links_with(session: Session, piece_id: UUID, part_id: UUID) -> Sequence[KinLink]:
    """Links of a piece with an end in a part, in the order they were found."""
    return session.scalars(
        select(KinLink)
        .where(
            KinLink.piece_id == piece_id,
            or_(KinLink.a_part_id == part_id, KinLink.b_part_id == part_id),
        )
        .order_by(KinLink.place)
    ).all()


def link_inside(session: Session, part_id: UUID, ends: Mapping[str, int]) -> KinLink | None:
    """The link inside a part between two stretches; ``ends`` are columns."""
    return session.scalar(select(KinLink).filter_by(a_part_id=part_id, b_part_id=part_id, **ends))


def last_place(session: Session, piece_id: UUID) -> int:
    """The place of the last link of a piece; 0 without any."""
    last = session.scalar(select(func.max(KinLink.place)).where(KinLink.piece_id == piece_id))
    return last or 0


def link_of(session: Session, program_id: UUID, kin_id: UUID) -> KinLink | None:
    """A link of a program."""
    return session.scalar(
        select(KinLink)
        .join(PiecePart, PiecePart.id == KinLink.a_part_id)
        .where(KinLink.id == kin_id, PiecePart.program_id == program_id)
    )


def judged_inside(session: Session, part_id: UUID) -> Sequence[KinLink]:
    """Links inside a part that were confirmed or refused."""
    return session.scalars(
        select(KinLink).where(
            KinLink.a_part_id == part_id,
            KinLink.b_part_id == part_id,
            KinLink.verdict.is_not(None),
        )
    ).all()


def judge_alike(
    session: Session, part_id: UUID, like: KinLink, *, a_first: int, b_first: int
) -> None:
    """The verdict on a link for the same link inside another part, from where it begins there."""
    session.execute(
        update(KinLink)
        .where(
            KinLink.a_part_id == part_id,
            KinLink.b_part_id == part_id,
            KinLink.relation == like.relation,
            KinLink.a_first == a_first,
            KinLink.b_first == b_first,
        )
        .values(verdict=like.verdict)
    )


def store_links(session: Session, links: Sequence[Mapping[str, object]]) -> None:
    """Store links of which no verdict is known: by column, with ids, as JSON says them.

    A large score has over a thousand: sent as one value they take a quarter of the time.
    """
    wanted = [c for c in KinLink.__table__.columns if c.name != "verdict"]
    sent = (
        func.jsonb_to_recordset(cast(links, JSONB))
        .table_valued(*(column(c.name, c.type) for c in wanted))
        .render_derived(name="link", with_types=True)
    )
    names = [c.name for c in wanted]
    source = select(*(sent.c[name] for name in names))
    session.execute(insert(KinLink).from_select(names, source))
