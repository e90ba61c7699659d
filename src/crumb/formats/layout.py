"""How drawings are laid out."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Layout:
    """How a drawing is laid out; ``width`` in Verovio units (a staff space is 18)."""

    width: int
    scale: int = 100
    breaks: str = "auto"
    system_spacing: int = 8
    numbers: bool = True
    margin: int = 60
    """Above; less below."""
    trimmed: bool = False
    """Whether short music makes a narrow drawing."""


PAGE = Layout(width=2000, system_spacing=16)
PHONE_PAGE = Layout(width=900, system_spacing=16)
SNIPPET = Layout(width=1500)
PHONE_SNIPPET = Layout(width=780)
PRINTED = Layout(width=1500, margin=8, trimmed=True)
PRINTED_STEP = Layout(width=2050, margin=8, trimmed=True)
"""A step on paper is smaller than its chunk: a line holds more of it."""
LAYOUTS = {
    "page": PAGE,
    "phone-page": PHONE_PAGE,
    "snippet": SNIPPET,
    "phone-snippet": PHONE_SNIPPET,
}
