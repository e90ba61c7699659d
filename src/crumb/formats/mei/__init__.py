"""MEI 5.0, common music notation: read into the score model by a reader of our own."""
