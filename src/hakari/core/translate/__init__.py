"""A grind on another grinder's dial."""
