"""The instrument of a part, for survey, drills, sound and paper."""
