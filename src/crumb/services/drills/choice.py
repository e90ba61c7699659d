"""Choosing drills: ranked for a chunk, saved as recipes, exchanged."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from functools import lru_cache
from statistics import median_low
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.drills import passage_of
from crumb.core.drills.ranking import Ranked, Situation, ranked
from crumb.core.drills.recipes import STANDARD, Recipe, RecipeItem, checked, fitted
from crumb.core.survey.model import Spot
from crumb.services.access import Actor
from crumb.services.errors import NotFound
from crumb.services.evidence.symptoms import cures_on
from crumb.services.library.pieces import PartInHand
from crumb.services.library.surveys import survey_of
from crumb.services.maps.chunks import ChunkView
from crumb.services.people.roster import get_section
from crumb.store.queries import mastery, recipes, sending
from crumb.store.tables import RecipeRow

_LOOK_BACK = timedelta(days=10)


def ranking(
    session: Session, hand: PartInHand, chunk: ChunkView, player: str, today: date
) -> tuple[list[Ranked], Situation]:
    """Every drill for a chunk, best first, and what that was judged by."""
    situation = _situation(session, hand, chunk, player, today)
    survey = survey_of(hand)
    spots = tuple(
        spot
        for measure in survey.measures[chunk.span.start.index : chunk.span.end.index + 1]
        for spot in measure.spots
        if chunk.span.start <= spot.at < chunk.span.end
    )
    return list(_ranked(_Key(hand, chunk), spots, situation)), situation


@dataclass(frozen=True)
class _Key:
    """A chunk of a stored part: equal for the same rows, whose music never changes."""

    hand: PartInHand
    chunk: ChunkView

    def __hash__(self) -> int:
        return hash((self.hand.row.id, self.chunk.id))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Key) and (self.hand.row.id, self.chunk.id) == (
            other.hand.row.id,
            other.chunk.id,
        )


@lru_cache(maxsize=512)
def _ranked(key: _Key, spots: tuple[Spot, ...], situation: Situation) -> tuple[Ranked, ...]:
    return tuple(ranked(passage_of(key.hand.part, key.chunk.span), spots, situation))


def _situation(
    session: Session, hand: PartInHand, chunk: ChunkView, player: str, today: date
) -> Situation:
    """The middle level of the players who were sent the part, the next due date, the last days."""
    receiving = sending.having_part(session, hand.row.id)
    known = mastery.levels_on(session, chunk.id)
    played = [known.get(student, 0) for student in receiving or known]
    due = sending.next_due(session, hand.row.id, today)
    cures = cures_on(session, hand.row.id, chunk.span)
    return Situation(
        level=median_low(played) if played else 0,
        days_left=(due - today).days if due else None,
        recent=tuple(sending.drills_since(session, chunk.id, today - _LOOK_BACK)),
        today=today,
        player=player,
        heard=tuple((cure.heard, cure.drills) for cure in cures),
    )


# Recipes ----------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class RecipeView:
    """A recipe in the list; a standard one has no id."""

    id: UUID | None
    section_id: UUID | None
    recipe: Recipe


def list_recipes(session: Session, actor: Actor) -> list[RecipeView]:
    """The program's own recipes, newest first, then the standard ones."""
    rows = recipes.recipes_of(session, actor.program_id)
    own = [RecipeView(row.id, row.section_id, _recipe(row)) for row in rows]
    return [*own, *(RecipeView(None, None, recipe) for recipe in STANDARD)]


def _recipe(row: RecipeRow) -> Recipe:
    items = tuple(RecipeItem(i["stage"], i["drill"], i["settings"]) for i in row.items)
    return Recipe(row.name, items, row.note)


def get_recipe(session: Session, actor: Actor, recipe_id: UUID) -> Recipe:
    """A recipe of the program.

    Raises:
        NotFound: not here.
    """
    return _recipe(_row(session, actor, recipe_id))


def _row(session: Session, actor: Actor, recipe_id: UUID) -> RecipeRow:
    row = recipes.recipe_of(session, actor.program_id, recipe_id)
    if row is None:
        raise NotFound("There is no such recipe.")
    return row


def save_recipe(
    session: Session,
    actor: Actor,
    *,
    name: str,
    items: object,
    note: str = "",
    section_id: UUID | None = None,
) -> None:
    """Keep a recipe, for everybody or for a section.

    Raises:
        BadRecipe: something in it does not exist.
        NotFound: no such section.
    """
    recipe = checked(name, items, note)
    if section_id is not None:
        get_section(session, actor, section_id)
    session.add(
        RecipeRow(
            id=uuid4(),
            program_id=actor.program_id,
            section_id=section_id,
            name=recipe.name,
            note=recipe.note,
            items=[_stored(item) for item in recipe.items],
        )
    )


def _stored(item: RecipeItem) -> Mapping[str, object]:
    return {"stage": item.stage, "drill": item.drill, "settings": dict(item.settings)}


def remove_recipe(session: Session, actor: Actor, recipe_id: UUID, *, back: bool = False) -> None:
    """Take a recipe off the list, or put it back.

    Raises:
        NotFound: not here.
    """
    row = _row(session, actor, recipe_id)
    row.removed_at = None if back else datetime.now(UTC)


def fit_recipe(
    hand: PartInHand, chunk: ChunkView, recipe: Recipe, player: str
) -> tuple[list[RecipeItem], list[str]]:
    """A recipe made for a chunk, and what was changed."""
    return fitted(passage_of(hand.part, chunk.span), recipe, player)
