"""Plans of sections, and each student's days in them."""
