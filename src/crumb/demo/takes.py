"""Takes of the demo: what a section is asked for, and four players with what the story says."""

from datetime import UTC, datetime, timedelta
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.vocabulary import Role
from crumb.demo.sound import Fault, played
from crumb.services.access import Actor
from crumb.services.library.pieces import load_part
from crumb.services.maps.chunks import view_map
from crumb.services.people.roster import SectionView
from crumb.services.takes import style, takes, tasks
from crumb.services.takes.takes import NewTake, TakeRules
from crumb.services.takes.tasks import NewTask, WishedTake
from crumb.store.files import Sounds

_WEEKS = 6
_MEASURE = 13
_DUE_IN_DAYS = 4
_STYLE = "Lean on the first of each run and let the others go light"
_TAKES: tuple[tuple[int, float, dict[int, Fault], str], ...] = (
    (1, 1.0, {}, ""),
    (3, 0.86, {5: Fault.WRONG, 9: Fault.LATE}, ""),
    (3, 0.9, {5: Fault.WRONG}, "The first one stopped in the middle"),
    (6, 0.95, {3: Fault.LATE, 4: Fault.LEFT_OUT}, ""),
    (10, 0.8, {5: Fault.WRONG, 11: Fault.LATE}, ""),
)
"""Player, tempo as a share of goal, faults, why it was made anew."""


def hand_in(
    session: Session, sounds: Sounds, actor: Actor, part_id: UUID, section: SectionView
) -> None:
    """Switch takes on, ask for them and hand some in; the worker makes them ready."""
    takes.change_rules(session, actor, TakeRules(is_on=True, weeks=_WEEKS))
    hand = load_part(session, actor, part_id)
    chunk = next(c for c in view_map(session, hand).chunks if c.span.start.index == _MEASURE)
    now = datetime.now(UTC)
    style.say(session, actor, part_id, chunk.id, _STYLE)
    wanted = ((WishedTake(part_id, chunk.id),), (WishedTake(part_id, None),))
    due_on = now.date() + timedelta(days=_DUE_IN_DAYS)
    tasks.ask_for(session, actor, NewTask(section.id, due_on, wanted), now.date())
    for place, (player, pace, faults, why) in enumerate(_TAKES):
        student, name = section.students[player]
        tempo = hand.row.goal_bpm * Fraction(pace).limit_denominator(100)
        sound = played(hand.part, chunk.span, tempo=tempo, beat=hand.beat, faults=faults)
        at = now - timedelta(days=2, minutes=-13 * place)
        mine = Actor(student, actor.program_id, Role.STUDENT, name)
        new = NewTake(UUID(int=0x7A << 100 | place, version=4), part_id, chunk.id, at, sound, why)
        takes.hand_in(session, sounds, mine, new)
