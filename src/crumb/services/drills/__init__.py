"""Drills on a chunk: worked out, chosen, written to files."""
