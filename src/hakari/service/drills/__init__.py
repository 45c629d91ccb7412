"""Drills: eye, words, dial and pour; what is asked, what was answered, and what is due."""
