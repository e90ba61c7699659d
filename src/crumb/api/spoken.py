"""Crumb's own sentences in US or UK words, by the school that asks."""

from contextvars import ContextVar
from typing import Annotated

from pydantic import PlainSerializer

from crumb.core.words import US, said_in

SPOKEN: ContextVar[str] = ContextVar("spoken", default=US)
"""Whose words this answer is in; set when it is known who asks."""


def spoken(text: str) -> str:
    """A sentence of ours in the words of the school that asked."""
    return said_in(SPOKEN.get(), text)


Said = Annotated[str, PlainSerializer(spoken, return_type=str)]
"""A text that is ours, not the user's: it is answered in the words of their school."""
