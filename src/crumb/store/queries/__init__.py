"""Queries by subject, each with a name and a sentence."""
