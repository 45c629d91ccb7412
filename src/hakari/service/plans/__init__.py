"""Plans: recipes in their styles, on a grind, with steps and notes."""
