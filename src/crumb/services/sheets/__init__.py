"""Practice on paper."""
