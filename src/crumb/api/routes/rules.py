"""A program's rules of levels."""

from fractions import Fraction

from fastapi import APIRouter

from crumb.api.deps import Db, Registrar, only_asks
from crumb.api.schemas.rules import EffectOut, RulesIO, RulesOut
from crumb.core.evidence.model import Source
from crumb.core.mastery.chunk import DEFAULTS, Rules
from crumb.services.evidence import rules

router = APIRouter(prefix="/rules", tags=["rules"])


@router.get("", operation_id="getRules")
def get_rules(actor: Registrar, session: Db) -> RulesOut:
    """What levels ask for."""
    return RulesOut(rules=_told(rules.rules_of(session, actor)), usual=_told(DEFAULTS))


@router.post("/preview", operation_id="previewRules")
@only_asks
def preview_rules(body: RulesIO, actor: Registrar, session: Db) -> EffectOut:
    """Preview today's levels under other rules."""
    found = rules.effect_of(session, actor, _rules(body))
    return EffectOut(
        now=list(found.now), then=list(found.then), raised=found.raised, lowered=found.lowered
    )


@router.put("", operation_id="changeRules", status_code=204)
def change_rules(body: RulesIO, actor: Registrar, session: Db) -> None:
    """Put other rules in force."""
    rules.change(session, actor, _rules(body))


def _rules(body: RulesIO) -> Rules:
    return Rules(
        body.in_a_row,
        Fraction(body.steady, 100),
        Fraction(body.linked, 100),
        frozenset(Source(source) for source in body.confirming),
    )


def _told(found: Rules) -> RulesIO:
    return RulesIO(
        in_a_row=found.in_a_row,
        steady=round(found.steady * 100),
        linked=round(found.linked * 100),
        confirming=sorted(found.confirming),  # type: ignore[arg-type]
    )
