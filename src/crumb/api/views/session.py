"""An actor's rights for the wire."""

from pydantic import TypeAdapter

from crumb.api.schemas.session import RightName
from crumb.services.access import Actor, Permission

_RIGHT: TypeAdapter[RightName] = TypeAdapter(RightName)


def rights_of(actor: Actor) -> list[RightName]:
    """What somebody may do."""
    return [_RIGHT.validate_python(right.name.lower()) for right in Permission if actor.may(right)]
