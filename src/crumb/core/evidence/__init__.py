"""What says how a student played, and what speaks against it."""
