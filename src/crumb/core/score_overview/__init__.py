"""The score as a whole: its passages, how sections stand on them, where slips fall."""
