"""Measures of the same material: learn one, get its twin nearly free."""
