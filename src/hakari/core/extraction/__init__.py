"""What the water takes out of the grounds."""
