"""The score as a whole: seen, split in every part, one passage sent to all who play it."""
