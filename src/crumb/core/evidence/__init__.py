"""Evidence of how a student played, and reasons to doubt it."""
