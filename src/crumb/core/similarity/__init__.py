"""Measures of the same material: learn one, get its kin nearly free."""
