"""Pages in: brought in, read, taken apart into parts, mended, made a piece."""
