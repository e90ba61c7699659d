"""What handed-in evidence means: from what was there and what came in to what is stored."""
