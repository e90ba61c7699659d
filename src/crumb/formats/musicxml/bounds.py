"""How much there may be of anything in a file. Real music stays far below; the bounds are ours."""

MOST_NOTES = 300_000
"""Notes and rests in all parts; a band score of twenty parts and four hundred measures has half."""

MOST_PARTS = 200
MOST_PART_MEASURES = 3_000
MOST_IN_MEASURE = 1_500
"""Notes, rests, words and changes in one measure of one part."""
MOST_GRACES = 64
"""Grace notes in one measure of one part."""
MOST_VOICES = 24
"""Voices in one measure of one part."""
MOST_MARKS = 12
"""Slurs, brackets and marks on one note; more are left out."""
MOST_TIMES = 12
"""How often a stretch is repeated; what says more is kept as this."""
MOST_LETTERS = 400
"""Letters of one text; more are left out."""
MOST_REPEATS = 100
MOST_ENDINGS = 40
"""In one part; more are left out: an engraver plays all of them out."""
