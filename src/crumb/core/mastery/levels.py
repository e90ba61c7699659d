"""The levels of a chunk for a student: their numbers and names."""

NEW, NOTES, RHYTHM, STEADY, LINKED, AT_TEMPO, KEPT = range(7)
NAMES = ("new", "notes", "rhythm", "steady", "linked", "at tempo", "kept")
