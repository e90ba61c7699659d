"""The Wall: students by chunks, by piece, by week; the evidence behind a cell; where slips fall."""
