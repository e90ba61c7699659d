"""Crumb: chunks, drills, tempo ladders and mastery for school bands and orchestras."""
