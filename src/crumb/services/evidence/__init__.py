"""Evidence: one writer, one reader."""
