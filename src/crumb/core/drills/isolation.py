"""Isolation: the chunk by itself."""

from crumb.core.drills.model import DrillKind, Parameter, Settings, Step
from crumb.core.drills.written import written_step
from crumb.core.score.model import Part
from crumb.core.score.position import Span

REPETITIONS = Parameter("repetitions", "Clean in a row", 3, low=1, high=20)


def _alone(part: Part, span: Span, settings: Settings) -> tuple[Step, ...]:
    return (written_step(part, span, name="As written", repetitions=int(settings["repetitions"])),)


ALONE = DrillKind(
    name="alone",
    title="Alone",
    family="Isolation",
    use_when="The notes are known and the spot has to become sure, or has to be proved.",
    how="The chunk in a loop, with a breath between, until it was clean often enough in a row.",
    clean_means="Every note, rhythm and articulation as written, without a stop.",
    on_slip="The count starts anew.",
    needs="Any chunk with a note in it.",
    make=_alone,
    parameters=(REPETITIONS,),
    caution="Warm up before fast repetition. Pain, numbness or tingling: stop, rest, tell the"
    " teacher.",
)
