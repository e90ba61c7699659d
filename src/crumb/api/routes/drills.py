"""The drill catalogue, the bench, recipes, and drills as files."""

import json
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query, Response

from crumb.api.deps import Db, Member, MusicKeeper, MusicReader, Today, only_asks, release
from crumb.api.schemas.drills import (
    BenchIn,
    DrillOut,
    FitRecipeIn,
    FittedRecipe,
    RankingOut,
    RecipeFile,
    RecipeIn,
    RecipeOut,
    ReferenceOut,
    VoiceOut,
    WorkedOut,
)
from crumb.api.views.drills import (
    drill_out,
    ladder_in,
    ladder_out,
    ranking_out,
    recipe_items_out,
    sounds_out,
    worked_out,
)
from crumb.core.drills import CATALOGUE
from crumb.core.drills.recipes import Recipe, RecipeItem, from_json, to_json
from crumb.core.vocabulary import PlayerLevel
from crumb.formats.layout import LAYOUTS
from crumb.services.drills import bench, choice, export
from crumb.services.errors import NotAccepted
from crumb.services.library import marks, pieces, reference
from crumb.services.maps import chunks
from crumb.services.sending.snapshot import snapshot_of

router = APIRouter(tags=["drills"])


@router.get("/drills", operation_id="listDrills")
def list_drills(actor: MusicReader) -> list[DrillOut]:
    """Every drill there is."""
    return [drill_out(kind) for kind in CATALOGUE]


@router.get("/parts/{part_id}/ranking", operation_id="rankDrills")
def rank_drills(
    part_id: UUID,
    chunk_id: UUID,
    actor: MusicKeeper,
    session: Db,
    today: Today,
    player: PlayerLevel = PlayerLevel.INTERMEDIATE,
) -> RankingOut:
    """Every drill for a chunk, best first, with reasons."""
    hand = pieces.load_part(session, actor, part_id)
    chunk = chunks.get_chunk(session, hand, chunk_id)
    return ranking_out(*choice.ranking(session, hand, chunk, player, today))


@router.post("/parts/{part_id}/bench", operation_id="workOutDrill")
@only_asks
def work_out_drill(part_id: UUID, body: BenchIn, actor: MusicReader, session: Db) -> WorkedOut:
    """A drill on a chunk: notation, ladder, minutes."""
    hand = pieces.load_part(session, actor, part_id)
    chunk = chunks.get_chunk(session, hand, body.chunk_id)
    settings = chunks.with_inner_edges(session, hand, chunk, body.settings)
    worked = bench.work_out(
        hand, chunk.span, body.drill, settings, ladder_in(body.ladder), body.player
    )
    release(session)
    drawings = bench.drawn(worked.drill.steps[: body.drawn], LAYOUTS[body.layout])
    ladder = ladder_out(worked, body.ladder.minutes)
    return worked_out(hand.part, snapshot_of(hand.part, worked).drill, chunk, drawings, ladder)


@router.get("/parts/{part_id}/reference", operation_id="getReference")
def get_reference(
    part_id: UUID, actor: Member, session: Db, with_others: bool = False
) -> ReferenceOut:
    """The whole part as it sounds, repeats played out; if wished with the parts beside it."""
    hand = marks.part_for(session, actor, part_id)
    made = reference.reference(hand)
    beside = reference.others(session, actor, hand) if with_others else []
    return ReferenceOut(
        sounds=sounds_out(hand.part, made.sounds),
        quarters=str(made.quarters),
        beat=str(hand.beat),
        goal_bpm=float(hand.row.goal_bpm),
        family=made.family,
        others=[
            VoiceOut(sounds=sounds_out(other.part, heard.sounds), family=heard.family)
            for other, heard in beside
        ],
    )


@router.get("/parts/{part_id}/file", operation_id="exportDrill", response_class=Response)
def export_drill(
    part_id: UUID,
    chunk_id: UUID,
    actor: MusicKeeper,
    session: Db,
    form: Annotated[str, Query(max_length=10)] = "musicxml",
    drill: Annotated[str, Query(max_length=40)] = "",
    settings: Annotated[str, Query(max_length=2000)] = "{}",
) -> Response:
    """A chunk, or a drill on it, as MusicXML, MIDI, SVG or PDF."""
    try:
        chosen = json.loads(settings)
    except json.JSONDecodeError as error:
        raise NotAccepted("The drill's settings cannot be read.") from error
    if not isinstance(chosen, dict):
        raise NotAccepted("The drill's settings cannot be read.")
    hand = pieces.load_part(session, actor, part_id)
    chunk = chunks.get_chunk(session, hand, chunk_id)
    release(session)
    data = export.export(hand, chunk, drill, chosen, export.usual_ladder(hand), form)
    name = f"{drill or 'chunk'}-{chunk.span.start.index + 1}.{form}"
    return Response(
        data,
        media_type=export.MEDIA_TYPES[form],
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )


# Recipes ----------------------------------------------------------------------------------------


@router.get("/recipes", operation_id="listRecipes")
def list_recipes(actor: MusicKeeper, session: Db) -> list[RecipeOut]:
    """The program's recipes, then the standard ones."""
    return [
        RecipeOut(
            id=view.id,
            section_id=view.section_id,
            name=view.recipe.name,
            note=view.recipe.note,
            items=recipe_items_out(view.recipe.items),
        )
        for view in choice.list_recipes(session, actor)
    ]


@router.post("/recipes", operation_id="saveRecipe", status_code=201)
def save_recipe(body: RecipeIn, actor: MusicKeeper, session: Db) -> list[RecipeOut]:
    """Keep a recipe; the list comes back."""
    items = [item.model_dump() for item in body.items]
    choice.save_recipe(
        session, actor, name=body.name, items=items, note=body.note, section_id=body.section_id
    )
    return list_recipes(actor, session)


@router.post("/recipes/file", operation_id="readRecipe", status_code=201)
def read_recipe(body: RecipeFile, actor: MusicKeeper, session: Db) -> list[RecipeOut]:
    """Take in a recipe that someone else saved as a file."""
    recipe = from_json(body.model_dump())
    written = to_json(recipe)
    choice.save_recipe(session, actor, name=recipe.name, items=written["items"], note=recipe.note)
    return list_recipes(actor, session)


@router.get("/recipes/{recipe_id}/file", operation_id="writeRecipe")
def write_recipe(recipe_id: UUID, actor: MusicKeeper, session: Db) -> RecipeFile:
    """A recipe as a file for someone else."""
    return RecipeFile.model_validate(to_json(choice.get_recipe(session, actor, recipe_id)))


@router.post("/recipes/{recipe_id}/remove", operation_id="removeRecipe")
def remove_recipe(recipe_id: UUID, actor: MusicKeeper, session: Db) -> list[RecipeOut]:
    """Take a recipe off the list."""
    choice.remove_recipe(session, actor, recipe_id)
    return list_recipes(actor, session)


@router.post("/recipes/{recipe_id}/restore", operation_id="restoreRecipe")
def restore_recipe(recipe_id: UUID, actor: MusicKeeper, session: Db) -> list[RecipeOut]:
    """Put it back."""
    choice.remove_recipe(session, actor, recipe_id, back=True)
    return list_recipes(actor, session)


@router.post("/parts/{part_id}/recipe", operation_id="fitRecipe")
@only_asks
def fit_recipe(part_id: UUID, body: FitRecipeIn, actor: MusicKeeper, session: Db) -> FittedRecipe:
    """A recipe made for a chunk."""
    hand = pieces.load_part(session, actor, part_id)
    chunk = chunks.get_chunk(session, hand, body.chunk_id)
    items = tuple(RecipeItem(i.stage, i.drill, i.settings) for i in body.items)
    fitted, said = choice.fit_recipe(hand, chunk, Recipe("", items), body.player)
    return FittedRecipe(items=recipe_items_out(fitted), said=said)
