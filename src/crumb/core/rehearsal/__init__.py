"""A rehearsal: which passages, for how many minutes, with which drill for the room."""
