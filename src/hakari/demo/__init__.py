"""The made-up world of the demo: its grinders, its pictures and its stories."""
