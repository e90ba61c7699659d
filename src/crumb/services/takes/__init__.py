"""Takes: asked for, handed in, made playable, erased; and how a passage is to be played."""
