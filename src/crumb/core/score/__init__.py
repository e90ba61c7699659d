"""Score model: parts, measures, notes, positions, spans and slices."""
