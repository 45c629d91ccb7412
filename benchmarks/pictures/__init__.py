"""Flat pictures of grounds with known truth: drawn outlines without height, quick to make."""
