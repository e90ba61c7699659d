"""An actor's rights for the wire."""

from crumb.core.vocabulary import Permission
from crumb.services.access import Actor


def rights_of(actor: Actor) -> list[Permission]:
    """The rights of a person, in the order of the enum."""
    return [right for right in Permission if actor.may(right)]
