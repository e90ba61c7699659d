"""What ``./check`` does: which steps there are, in which order, on how many processors."""
