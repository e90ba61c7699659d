"""The survey: hard spots of a part for its instrument, with reasons."""
