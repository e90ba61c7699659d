"""A student's own work."""
