"""Pages of music: pictures and PDFs become staves, barlines and words."""
