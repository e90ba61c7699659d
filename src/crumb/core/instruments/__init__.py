"""What a part is played on: one truth for survey, drills, sound and paper."""
