"""How water goes through a bed of grounds."""
