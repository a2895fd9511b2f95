"""The machines that come with the program. Everything about them is invented."""

COURTYARD, BRUSH = "courtyard", "brush"
DEMOS = (COURTYARD, BRUSH)
