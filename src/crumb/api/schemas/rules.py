"""Rules of levels, as schemas."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from crumb.api.schemas.common import Given
from crumb.core.evidence.model import Source

Percent = Annotated[int, Field(ge=1, le=100)]


class RulesIO(Given):
    """Clean passes in a row, steady and linked in per cent of goal, who confirms the last level."""

    in_a_row: Annotated[int, Field(ge=1, le=20)]
    steady: Percent
    linked: Percent
    confirming: Annotated[
        list[Literal[Source.HEARING, Source.MEASURED, Source.HELPER]], Field(max_length=3)
    ]


class RulesOut(BaseModel):
    """A program's rules of levels, and the usual ones."""

    rules: RulesIO
    usual: RulesIO


class EffectOut(BaseModel):
    """Cells at each level from 0 to 6, now and by other rules; how many rise and sink."""

    now: list[int]
    then: list[int]
    raised: int
    lowered: int
