"""ABC notation, version 2.1, into the score model."""
