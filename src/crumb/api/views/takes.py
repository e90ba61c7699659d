"""Takes, for the wire."""

from crumb.api.schemas.takes import (
    AnchorOut,
    AskedPassageOut,
    OwedOut,
    OwingOut,
    StyleOut,
    TakeOut,
    TaskOut,
    ThingOut,
    WantedOut,
)
from crumb.api.views.places import position_out
from crumb.core.vocabulary import TakeState
from crumb.services.takes.style import StyleView
from crumb.services.takes.takes import anchors_of
from crumb.services.takes.tasks import AskedPassage, Owed, TaskView
from crumb.store.tables import Take


def take_out(take: Take, least: int) -> TakeOut:
    """A take; ``least`` is how many seconds it should have."""
    return TakeOut(
        id=take.id,
        part_id=take.part_id,
        chunk_id=take.chunk_id,
        state=TakeState(take.state),
        message=take.message,
        seconds=None if take.seconds is None else float(take.seconds),
        is_short=take.seconds is not None and take.seconds < least,
        why_anew=take.why_anew,
        is_heard=take.hearing_id is not None,
        anchors=[
            AnchorOut(at=position_out(one.at), seconds=float(one.seconds))
            for one in anchors_of(take)
        ],
        recorded_at=take.recorded_at,
        handed_in_at=take.handed_in_at,
    )


def style_out(one: StyleView) -> StyleOut:
    """How a passage is to be played."""
    return StyleOut(chunk_id=one.chunk_id, label=one.label, text=one.text)


def _passage_out(one: AskedPassage) -> AskedPassageOut:
    return AskedPassageOut(
        part_id=one.part_id,
        chunk_id=one.chunk_id,
        title=one.title,
        part=one.part,
        label=one.label,
        least_seconds=one.least_seconds,
    )


def owed_out(owed: Owed) -> OwedOut:
    """A task as a student has it."""
    things = [
        ThingOut(either=[_passage_out(one) for one in thing.either], state=thing.state)
        for thing in owed.things
    ]
    return OwedOut(id=owed.id, due_on=owed.due_on, things=things, is_closed=owed.is_closed)


def task_out(task: TaskView) -> TaskOut:
    """A task with everybody who has it."""
    return TaskOut(
        id=task.id,
        section_id=task.section_id,
        section=task.section,
        due_on=task.due_on,
        wanted=[
            WantedOut(either=[_passage_out(one) for one in either], handed_in=task.handed_in(place))
            for place, either in enumerate(task.wanted)
        ],
        students=[
            OwingOut(
                student_id=student,
                name=name,
                states=[thing.state for thing in owed.things],
                is_closed=owed.is_closed,
            )
            for student, name, owed in task.owed
        ],
    )
