"""Planning: where a student's minutes go, from today to the date."""
