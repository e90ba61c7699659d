"""Pages of a part: its measures where they are printed, numbered, mended by hand, made a part."""
