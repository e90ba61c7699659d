"""What says how a student played: one writer, one reader."""
