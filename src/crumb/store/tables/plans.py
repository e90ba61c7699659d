"""Plans of sections, and each student's days in them."""

from datetime import date, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import CheckConstraint, ForeignKey, String, func, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from crumb.store.base import Base


class PlanRow(Base):
    """A section's plan for a part: the date, the minutes, and what the director changed by hand.

    What each student does on which day follows from it and from their own evidence.
    """

    __tablename__ = "plan"
    __table_args__ = (CheckConstraint("ends_on > starts_on", name="days"),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"), index=True)
    section_id: Mapped[UUID] = mapped_column(ForeignKey("section.id"), index=True)
    starts_on: Mapped[date]
    ends_on: Mapped[date]
    minutes_a_day: Mapped[int]
    sessions_a_day: Mapped[int]
    warm_up_minutes: Mapped[int]
    player: Mapped[str] = mapped_column(String(12))
    order_by: Mapped[str] = mapped_column(String(12))
    days_off: Mapped[list[str]] = mapped_column(JSONB, server_default=text("'[]'"))
    weekdays_off: Mapped[list[int]] = mapped_column(JSONB, server_default=text("'[]'"))
    changes: Mapped[dict[str, Any]] = mapped_column(JSONB, server_default=text("'{}'"))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    withdrawn_at: Mapped[datetime | None]


class PlanDay(Base):
    """A student's day in a plan: the minutes they said they have, and what was laid out for it."""

    __tablename__ = "plan_day"
    plan_id: Mapped[UUID] = mapped_column(ForeignKey("plan.id"), primary_key=True)
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), primary_key=True, index=True)
    day: Mapped[date] = mapped_column(primary_key=True)
    minutes: Mapped[int | None]
    items: Mapped[list[dict[str, Any]] | None] = mapped_column(JSONB(none_as_null=True))
    is_laid_out: Mapped[bool] = mapped_column(server_default=text("false"))
    """Whether the items still stand; where they do not, those that were begun are kept."""
