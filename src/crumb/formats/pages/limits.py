"""Bounds of what is brought in as pages."""

MOST_PAGES = 120
MOST_BYTES = 60_000_000
MOST_PIXELS = 50_000_000
"""Of a picture as it comes; a page of 600 dots an inch has 35 million."""
WIDEST = 2500
"""Pixels of a page as it is read and kept: 300 dots an inch."""
HIGHEST = 3800
MOST_SOURCES = 60
