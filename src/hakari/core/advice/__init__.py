"""From evidence to one change."""
