"""MusicXML 4.0: a strict reader into the score model and a writer out of it."""
