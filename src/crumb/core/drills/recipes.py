"""Recipes: drills in the order learn, set, prove, saved, exchanged, and made to fit a chunk."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from crumb.core.drill_names import DrillName
from crumb.core.drills import drill_kind, make_drill
from crumb.core.drills.model import INTERMEDIATE, LEARN, PROVE, SET, Setting
from crumb.core.drills.passage import Passage
from crumb.core.errors import BadRecipe, CrumbError, DrillDoesNotFit

FORMAT = "crumb-recipe"
VERSION = 1
STAGES = (LEARN, SET, PROVE)
MOST_ITEMS = 12


@dataclass(frozen=True, slots=True)
class RecipeItem:
    """One drill of a recipe and what it is for there."""

    stage: str
    drill: str
    settings: Mapping[str, Setting]


@dataclass(frozen=True, slots=True)
class Recipe:
    """A named way from new to proved."""

    name: str
    items: tuple[RecipeItem, ...]
    note: str = ""


def _item(stage: str, drill: str, **settings: Setting) -> RecipeItem:
    return RecipeItem(stage, drill, settings)


STANDARD: tuple[Recipe, ...] = (
    Recipe(
        "First meeting",
        (
            _item(LEARN, DrillName.NAME_IT),
            _item(LEARN, DrillName.COUNT_IT),
            _item(SET, DrillName.ALONE, repetitions=5),
        ),
        "For a chunk that nobody has played yet.",
    ),
    Recipe(
        "Beginners",
        (
            _item(LEARN, DrillName.COUNT_IT),
            _item(LEARN, DrillName.TWO_NOTES),
            _item(SET, DrillName.CUMULATIVE),
            _item(PROVE, DrillName.ALONE, repetitions=3),
        ),
        "Small pieces, four each, then three in a row.",
    ),
    Recipe(
        "Even sixteenths",
        (
            _item(LEARN, DrillName.EVERY_NOTE),
            _item(SET, DrillName.STANDARD_SET),
            _item(SET, DrillName.BACKWARD),
            _item(PROVE, DrillName.ALONE),
        ),
        "Fingers and tongue or bow together, then rhythms, then the chain.",
    ),
    Recipe(
        "At tempo in fragments",
        (
            _item(LEARN, DrillName.LOOK_AHEAD),
            _item(LEARN, DrillName.ADD_A_NOTE),
            _item(SET, DrillName.STOPS),
            _item(PROVE, DrillName.ALONE),
        ),
        "When days are few, or the ladder stalls.",
    ),
    Recipe(
        "The hard landing",
        (
            _item(LEARN, DrillName.HOLD_ARRIVAL),
            _item(SET, DrillName.TWO_NOTES),
            _item(PROVE, DrillName.IN_CONTEXT),
        ),
        "A leap, a shift or a slide that misses.",
    ),
    Recipe(
        "Join and keep",
        (
            _item(SET, DrillName.SEAMS),
            _item(SET, DrillName.IN_CONTEXT),
            _item(PROVE, DrillName.RUN_THROUGH),
        ),
        "Clean apart, not yet together.",
    ),
)


def fitted(
    passage: Passage, recipe: Recipe, level: str = INTERMEDIATE
) -> tuple[list[RecipeItem], list[str]]:
    """A recipe made for a chunk: what fits it, and what was put in place of what does not.

    A drill that finds nothing to work on gives its place to the first it offers instead that is
    not in the recipe yet.
    """
    kept: list[RecipeItem] = []
    said: list[str] = []
    for item in recipe.items:
        try:
            make_drill(
                passage.part, passage.span, item.drill, item.settings, level=level, passage=passage
            )
        except DrillDoesNotFit as error:
            taken = {one.drill for one in (*kept, *recipe.items)}
            offered = error.facts.get("instead")
            names = [n for n in offered if n not in taken] if isinstance(offered, list) else []
            title = drill_kind(item.drill).title
            if names:
                kept.append(RecipeItem(item.stage, names[0], {}))
                said.append(f"{drill_kind(names[0]).title} stands in for {title}.")
            else:
                said.append(f"{title} is left out: it does not fit here.")
            continue
        kept.append(item)
    return kept, said


def to_json(recipe: Recipe) -> dict[str, object]:
    """A recipe as it is exchanged."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "name": recipe.name,
        "note": recipe.note,
        "items": [
            {"stage": item.stage, "drill": item.drill, "settings": dict(item.settings)}
            for item in recipe.items
        ],
    }


def from_json(data: object) -> Recipe:
    """A recipe read from what :func:`to_json` wrote, checked through.

    Raises:
        BadRecipe: it is no recipe, of another version, or names what is not here.
    """
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise BadRecipe("This file is no recipe of drills.")
    if data.get("version") != VERSION:
        raise BadRecipe("This recipe was written by another version and cannot be read.")
    return checked(str(data.get("name", "")), data.get("items"), str(data.get("note", "")))


def checked(name: str, items: object, note: str = "") -> Recipe:
    """A recipe whose drills, stages and settings all exist.

    Raises:
        BadRecipe: something in it does not; says what.
    """
    name = " ".join(name.split())
    if not 1 <= len(name) <= 60:
        raise BadRecipe("Give the recipe a name of up to 60 letters.")
    if not isinstance(items, Sequence) or isinstance(items, str) or not items:
        raise BadRecipe("A recipe needs at least one drill.")
    if len(items) > MOST_ITEMS:
        raise BadRecipe(f"A recipe has at most {MOST_ITEMS} drills.")
    return Recipe(
        name, tuple(_checked_item(i, item) for i, item in enumerate(items, 1)), note[:200]
    )


def _checked_item(place: int, item: object) -> RecipeItem:
    if not isinstance(item, Mapping):
        raise BadRecipe(f"Line {place} of the recipe names no drill.")
    stage, drill = item.get("stage"), str(item.get("drill", ""))
    settings = item.get("settings") or {}
    if stage not in STAGES:
        raise BadRecipe(f"Line {place}: a stage is one of {', '.join(STAGES)}.")
    if not isinstance(settings, Mapping):
        raise BadRecipe(f"Line {place}: its settings cannot be read.")
    try:
        kind = drill_kind(drill)
        read = {p.name: p.read(settings[p.name]) for p in kind.parameters if p.name in settings}
        kind.settings(dict(settings))
    except CrumbError as error:
        raise BadRecipe(f"Line {place}: {error.message}") from error
    return RecipeItem(str(stage), drill, read)
