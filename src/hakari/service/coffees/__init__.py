"""Coffees: the shelf, rest and what is left of a bag."""
