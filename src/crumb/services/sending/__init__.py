"""Assignments: their drills, their recipients, their changes."""
