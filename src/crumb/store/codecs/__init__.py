"""Codecs of stored JSON: one place each, typed on both sides."""
