"""Planning: sharing a student's minutes."""
