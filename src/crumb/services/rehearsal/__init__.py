"""Rehearsals: planned, kept, done and sent home."""
