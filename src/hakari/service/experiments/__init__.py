"""Experiments at the bench: plans, blind rounds, what was noted, and what follows."""
