"""Brewers, methods, styles and schedules."""
