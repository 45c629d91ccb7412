"""Hakari: from a photo of ground coffee to the next click on your own grinder."""
