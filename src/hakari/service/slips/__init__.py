"""Slips: the record of a brew with its cup."""
