"""Tasks for takes, and the alignment of a take with the music."""
