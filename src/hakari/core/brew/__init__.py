"""Brewers, methods, schools and schedules."""
