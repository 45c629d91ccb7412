"""Brews: followed live, logged, and what they teach the prediction."""
