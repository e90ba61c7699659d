"""The score as a whole: how it stands and is split, what is rehearsed, what needs somebody."""
