"""Music that stays on paper: Crumb knows its measures, and so what is divided, sent and counted."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction

from sqlalchemy.orm import Session

from crumb.core.instruments.table import instrument_named
from crumb.core.score.model import Score
from crumb.core.score.numbered import numbered_part, time_said
from crumb.formats.musicxml.writer import write_part
from crumb.services.access import Actor
from crumb.services.library.pieces import check_goal
from crumb.services.music.imports import store_score
from crumb.store.files import FileStore
from crumb.store.tables import Piece


@dataclass(frozen=True, slots=True)
class OnPaper:
    """A part as its title page and its last measure tell it; ``pickup`` counts beats."""

    title: str
    composer: str
    played_on: str
    measures: int
    first: int
    time: str
    pickup: Fraction
    goal: Fraction
    letters: Mapping[int, str] = field(default_factory=dict)


def add(session: Session, files: FileStore, actor: Actor, wish: OnPaper) -> Piece:
    """Keep a part without notes.

    Raises:
        BadSetting: no such measures or meter.
        NotAccepted: no such tempo.
    """
    goal = check_goal(wish.goal)
    time = time_said(wish.time)
    instrument = instrument_named(wish.played_on)
    part = numbered_part(
        wish.played_on,
        instrument=instrument.name,
        count=wish.measures,
        first=wish.first,
        time=time,
        pickup=wish.pickup * time.beat,
        goal=goal,
        letters=wish.letters,
    )
    score = Score(wish.title, wish.composer, (part,))
    data = write_part(part, title=wish.title, composer=wish.composer).encode()
    return store_score(session, files, actor, score=score, file_name="on paper", data=data)
