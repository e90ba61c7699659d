"""Who somebody is and what they may do, for the wire."""

from pydantic import TypeAdapter

from crumb.api.schemas.session import RightName, RoleName
from crumb.services.access import Actor, Permission, Role

_ROLE: TypeAdapter[RoleName] = TypeAdapter(RoleName)
_RIGHT: TypeAdapter[RightName] = TypeAdapter(RightName)


def role_name(role: Role) -> RoleName:
    """A role."""
    return _ROLE.validate_python(role.value)


def rights_of(actor: Actor) -> list[RightName]:
    """What somebody may do."""
    return [_RIGHT.validate_python(right.name.lower()) for right in Permission if actor.may(right)]
