"""Grinders: their dials, curves, setting cards and translations between them."""
