"""Takes: a student records a chunk and hands it in; whoever judges hears it; then it goes again.

Takes are off until a school says that it has the consent it needs. Only the student and those who
may hear them ever get the sound; classmates never do.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from decimal import Decimal
from fractions import Fraction
from functools import partial
from pathlib import Path
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.errors import UnreadableFile
from crumb.core.score.position import Position
from crumb.core.takes.alignment import LONGEST_SECONDS, Anchor, check_anchors, least_seconds, set_up
from crumb.core.vocabulary import JobKind, Permission, TakeState
from crumb.formats.sound import to_mp3
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotAllowed, NotFound
from crumb.services.jobs import Try
from crumb.services.library.pieces import PartInHand, load_kept, load_part
from crumb.services.maps.chunks import ChunkView, get_chunk
from crumb.services.people.roster import get_student
from crumb.services.takes import style
from crumb.services.takes.style import StyleView
from crumb.store.files import Sounds
from crumb.store.queries import locks
from crumb.store.queries import takes as ask
from crumb.store.queries.score_overview import seats
from crumb.store.tables import Job, Take
from crumb.store.unit_of_work import after_commit, after_rollback

MAX_BYTES = 60_000_000
MOST_KEPT = 40
MOST_KEPT_BYTES = 300_000_000
"""Of one student: 40 takes of ten minutes, and some that are not made playable yet."""
WEEKS = range(1, 27)
_AHEAD = timedelta(minutes=10)


@dataclass(frozen=True, slots=True)
class TakeRules:
    """Whether students of a program may record themselves, and for how many weeks takes stay."""

    is_on: bool
    weeks: int


@dataclass(frozen=True, slots=True)
class NewTake:
    """A take as it is handed in; the id was made on the device, so that it is kept once."""

    id: UUID
    part_id: UUID
    chunk_id: UUID
    recorded_at: datetime
    data: bytes
    why_anew: str = ""


def rules(session: Session, actor: Actor) -> TakeRules:
    """The school's rules for takes."""
    return TakeRules(*ask.rules_of(session, actor.program_id))


def change_rules(session: Session, actor: Actor, wanted: TakeRules) -> TakeRules:
    """Switch takes on or off, and say for how many weeks they stay.

    Raises:
        NotAccepted: a number of weeks that cannot be.
    """
    if wanted.weeks not in WEEKS:
        raise NotAccepted(f"Takes are kept for {WEEKS[0]} to {WEEKS[-1]} weeks.")
    ask.set_rules(session, actor.program_id, is_on=wanted.is_on, weeks=wanted.weeks)
    return wanted


def hand_in(session: Session, sounds: Sounds, actor: Actor, new: NewTake) -> Take:
    """Keep a take and have its sound made playable; the same one twice is kept once.

    Raises:
        NotAllowed: the school does not have takes.
        NotFound: no such part or chunk among what the student was sent.
        NotAccepted: too many takes, or a time that cannot be.
    """
    locks.have_key(session, new.id)
    before = ask.any_take(session, new.id)
    if before is not None:
        if before.student_id == actor.person_id:
            return before
        raise NotAccepted("This take has the mark of another one; record it again.")
    if not rules(session, actor).is_on:
        raise NotAllowed("Your school does not have takes. Nothing was kept.")
    hand = load_part(session, actor, new.part_id)
    chunk = get_chunk(session, hand, new.chunk_id)
    _check_plays(session, actor, new.part_id)
    if new.recorded_at > datetime.now(UTC) + _AHEAD:
        raise NotAccepted("This take is from the future: set this device's clock.")
    locks.have_student(session, actor.person_id)  # two at once are not both the last one
    count, size = ask.kept_by(session, actor.person_id)
    if count >= MOST_KEPT:
        raise NotAccepted(f"{MOST_KEPT} takes are kept at most: delete one first.")
    if size + len(new.data) > MOST_KEPT_BYTES:
        room = f"{MOST_KEPT_BYTES // 1_000_000} MB"
        raise NotAccepted(f"Your takes fill the {room} that a student has: delete one first.")
    sound = sounds.save(new.data)
    after_rollback(session, partial(sounds.forget, sound))
    take = Take(
        id=new.id,
        program_id=actor.program_id,
        student_id=actor.person_id,
        part_id=new.part_id,
        chunk_id=chunk.id,
        sound=sound,
        bytes=len(new.data),
        why_anew=new.why_anew.strip(),
        recorded_at=new.recorded_at,
    )
    job = Job(
        id=uuid4(),
        program_id=actor.program_id,
        person_id=actor.person_id,
        kind=JobKind.TAKE,
        take_id=take.id,
    )
    session.add_all([take, job])
    session.flush()
    session.refresh(take)
    return take


def _check_plays(session: Session, actor: Actor, part_id: UUID) -> None:
    if actor.person_id not in seats(session, [part_id]):
        raise NotFound("This is not on your list.")


def own(session: Session, actor: Actor) -> Sequence[Take]:
    """One's own takes, the newest first."""
    return ask.of_student(session, actor.person_id)


@dataclass(frozen=True, slots=True)
class TakeNeeds:
    """Requirements of a take of a chunk: seconds, place of the device, style of the music."""

    least_seconds: int
    set_up: str
    style: tuple[StyleView, ...]


def asked(session: Session, actor: Actor, part_id: UUID, chunk_id: UUID) -> TakeNeeds:
    """Facts for a student who is about to record a chunk.

    Raises:
        NotFound: no such part or chunk, or none that the student plays.
    """
    hand = load_part(session, actor, part_id)
    chunk = get_chunk(session, hand, chunk_id)
    _check_plays(session, actor, part_id)
    said = tuple(style.of(session, hand, chunk))
    return TakeNeeds(least_on(hand, chunk), set_up(hand.instrument), said)


def least_of(session: Session, take: Take) -> int:
    """How many seconds a take should have; its piece may have been taken away meanwhile."""
    hand = load_kept(session, take.part_id)
    return least_on(hand, get_chunk(session, hand, take.chunk_id))


def least_on(hand: PartInHand, chunk: ChunkView) -> int:
    """How many seconds a take of a chunk should have."""
    return least_seconds(hand.part, chunk.span, goal=hand.row.goal_bpm, beat=hand.beat)


def sound_of(session: Session, sounds: Sounds, actor: Actor, take_id: UUID) -> Path:
    """The file of a take's sound.

    Raises:
        NotFound: not one's own, nor one of a student that one may hear; or not playable yet.
    """
    take = _take(session, actor, take_id)
    path = sounds.path_of(take.sound)
    if take.state != TakeState.READY or not path.is_file():
        raise NotFound("This take cannot be played.")
    return path


def align(session: Session, actor: Actor, take_id: UUID, anchors: Sequence[Anchor]) -> None:
    """Say which places of the music sound when in a take.

    Raises:
        NotFound: no such take.
        TakeRefused: places that cannot be.
    """
    take = _take(session, actor, take_id)
    chunk = get_chunk(session, load_part(session, actor, take.part_id), take.chunk_id)
    seconds = Fraction(take.seconds or 0)
    check_anchors(chunk.span, anchors, seconds=seconds)
    take.anchors = [
        {"index": one.at.index, "at": str(one.at.at), "seconds": str(one.seconds)}
        for one in anchors
    ]


def anchors_of(take: Take) -> list[Anchor]:
    """The anchors of a take."""
    return [
        Anchor(Position(int(one["index"]), Fraction(one["at"])), Fraction(one["seconds"]))
        for one in take.anchors
    ]


def remove(session: Session, sounds: Sounds, actor: Actor, take_id: UUID) -> None:
    """Erase a take; what was judged of it stays. One that is gone is gone.

    Raises:
        NotFound: it is somebody else's.
    """
    erase(session, sounds, _take(session, actor, take_id).id)


def heard(
    session: Session, actor: Actor, take_id: UUID, hearing_id: UUID, student_id: UUID
) -> None:
    """Say which hearing was of a take.

    Raises:
        NotFound: no such take of this student.
    """
    check_of(session, actor, take_id, student_id).hearing_id = hearing_id


def check_of(session: Session, actor: Actor, take_id: UUID, student_id: UUID) -> Take:
    """The take, if it is this student's.

    Raises:
        NotFound: no such take of this student.
    """
    take = _take(session, actor, take_id)
    if take.student_id != student_id:
        raise NotFound("This take is another student's.")
    return take


def _take(session: Session, actor: Actor, take_id: UUID) -> Take:
    take = ask.take_of(session, actor.program_id, take_id)
    if take is None:
        raise NotFound("There is no such take.")
    if take.student_id != actor.person_id:
        if not actor.may(Permission.HEAR):
            raise NotFound("There is no such take.")
        get_student(session, actor, take.student_id)
    return take


def erase(session: Session, sounds: Sounds, take_id: UUID) -> bool:
    """Erase a take and its sound; whether it was there."""
    sound = ask.erase(session, take_id)
    if sound is not None:
        after_commit(session, partial(sounds.forget, sound))
    return sound is not None


def make_playable(session: Session, attempt: Try, sounds: Sounds) -> None:
    """Make the sound of a take playable; one that cannot be read says so.

    Raises:
        Abandoned: nobody wants it any more.
    """
    job = session.get_one(Job, attempt.id)
    take = None if job.take_id is None else ask.any_take(session, job.take_id)
    if take is not None and take.state == TakeState.WAITING:
        _make_playable(session, take, sounds)
    attempt.done(session)


def _make_playable(session: Session, take: Take, sounds: Sounds) -> None:
    try:
        sound = to_mp3(sounds.path_of(take.sound).read_bytes(), longest=LONGEST_SECONDS)
    except (UnreadableFile, OSError) as error:
        take.state = TakeState.FAILED
        take.message = str(error) if isinstance(error, UnreadableFile) else "Its file is gone."
        after_commit(session, partial(sounds.forget, take.sound))
        return
    after_commit(session, partial(sounds.forget, take.sound))
    made = sounds.save(sound.data)
    after_rollback(session, partial(sounds.forget, made))
    take.state, take.sound, take.bytes = TakeState.READY, made, len(sound.data)
    take.seconds = Decimal(round(sound.seconds * 1000)) / 1000
