"""The music in hand: parts as they are kept, what was found in them, their drawings and marks."""
