"""Dials, curves of size against position."""
