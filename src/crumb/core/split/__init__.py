"""Chunk maps: dividing a part into chunks and editing the division."""
