"""The levels of a chunk for a student: their numbers and names."""

from fractions import Fraction

NEW, NOTES, RHYTHM, STEADY, LINKED, AT_TEMPO, KEPT = range(7)
NAMES = ("new", "notes", "rhythm", "steady", "linked", "at tempo", "kept")
STEADY_SHARE = Fraction(6, 10)
"""Of goal: the tempo that *steady* asks for."""
