"""Text from clients: characters that nobody can see or no database can store are refused."""

import re
from collections.abc import Mapping, Sequence

# Unicode's categories Cc (tabs and line ends apart) and Cs.
_UNSEEN = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff]")
_DEEPEST = 40


def has_control_characters(text: str) -> bool:
    """Whether there is a control character (tabs and line ends apart) or half a character."""
    return _UNSEEN.search(text) is not None


def refuse_control_characters(value: object, depth: int = 0) -> None:
    """Look through everything that was sent.

    Raises:
        ValueError: something in it cannot be seen or stored, or it goes deeper than anything does.
    """
    if depth > _DEEPEST:
        raise ValueError("this goes deeper than anything that is sent here")
    if isinstance(value, str):
        if has_control_characters(value):
            raise ValueError("there is a control character in this; type it again")
    elif isinstance(value, Mapping):
        for key, inner in value.items():
            refuse_control_characters(key, depth + 1)
            refuse_control_characters(inner, depth + 1)
    elif isinstance(value, Sequence) and not isinstance(value, bytes | bytearray):
        for inner in value:
            refuse_control_characters(inner, depth + 1)
