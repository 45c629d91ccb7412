"""The HTTP interface: JSON under /api by station, and the built page."""
