"""Statistics of trying things at the bench; stands alone."""
