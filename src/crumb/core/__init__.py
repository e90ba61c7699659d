"""The heart: pure functions over small immutable types. No files, no clock, no database."""
