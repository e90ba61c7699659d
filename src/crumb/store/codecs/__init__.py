"""What is stored as JSON: written and read in one place each, typed on both sides."""
