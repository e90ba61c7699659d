"""The score as a whole: what several parts share, and what a room does with it."""
