"""Mastery: from evidence to a level."""
