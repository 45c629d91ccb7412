"""Cups: what was tasted and measured, judged, and the one change."""
