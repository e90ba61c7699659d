"""Pieces, their parts, and what is known of them."""
