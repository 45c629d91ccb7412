"""From measured grounds to a size distribution with its uncertainty."""
